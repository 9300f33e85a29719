export { ReplaceScreen as default } from '../../../../src/plan/ReplaceScreen';
