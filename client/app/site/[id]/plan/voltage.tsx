export { VoltageScreen as default } from '../../../../src/plan/VoltageScreen';
