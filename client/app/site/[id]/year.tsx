export { YearScreen as default } from '../../../src/year/YearScreen';
