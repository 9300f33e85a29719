export { MoneyScreen as default } from '../../../../src/plan/MoneyScreen';
