export { AddModulesScreen as default } from '../../../../src/plan/AddModulesScreen';
