export { NoSuchPage as default } from '../src/shell/NoSuchPage';
