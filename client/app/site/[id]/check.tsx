export { CheckScreen as default } from '../../../src/check/CheckScreen';
