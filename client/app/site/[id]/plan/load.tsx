export { AddLoadScreen as default } from '../../../../src/plan/AddLoadScreen';
