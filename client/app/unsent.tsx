export { UnsentScreen as default } from '../src/unsent/UnsentScreen';
