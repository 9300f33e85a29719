export { SurveyScreen as default } from '../../../src/survey/SurveyScreen';
