export { CompareScreen as default } from '../../../../src/plan/CompareScreen';
