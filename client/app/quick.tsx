export { QuickScreen as default } from '../src/quick/QuickScreen';
