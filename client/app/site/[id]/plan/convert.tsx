export { ConvertScreen as default } from '../../../../src/plan/ConvertScreen';
