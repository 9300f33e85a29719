export { AddDeviceScreen as default } from '../../../../src/plan/AddPartScreen';
