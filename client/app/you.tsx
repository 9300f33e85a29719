export { YouScreen as default } from '../src/firm/YouScreen';
