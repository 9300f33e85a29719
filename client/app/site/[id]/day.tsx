export { DayScreen as default } from '../../../src/survey/DayScreen';
