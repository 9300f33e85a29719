export { ChangeScreen as default } from '../../../../src/plan/ChangeScreen';
