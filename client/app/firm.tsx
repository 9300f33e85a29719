export { FirmScreen as default } from '../src/firm/FirmScreen';
