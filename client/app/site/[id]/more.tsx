export { MoreScreen as default } from '../../../src/survey/MoreScreen';
