export { PlanScreen as default } from '../../../../src/plan/PlanScreen';
