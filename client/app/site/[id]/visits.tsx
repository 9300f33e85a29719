export { VisitsScreen as default } from '../../../src/prove/VisitsScreen';
