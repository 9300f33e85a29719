export { WalkScreen as default } from '../../../src/survey/WalkScreen';
