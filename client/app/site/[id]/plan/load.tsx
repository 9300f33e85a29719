export { AddLoadScreen as default } from '../../../../src/plan/AddPartScreen';
