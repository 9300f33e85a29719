export { Root as default } from '../src/shell/Root';
