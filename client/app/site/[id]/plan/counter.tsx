export { CounterScreen as default } from '../../../../src/plan/CounterScreen';
