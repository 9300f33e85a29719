export { InterimScreen as default } from '../../../../src/plan/InterimScreen';
