export { AddSourceScreen as default } from '../../../../src/plan/AddPartScreen';
