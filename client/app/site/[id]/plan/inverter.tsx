export { AddInverterScreen as default } from '../../../../src/plan/AddPartScreen';
