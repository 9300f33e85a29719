export { CableScreen as default } from '../../../../src/plan/CableScreen';
