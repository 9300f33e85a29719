export { SchoolsScreen as default } from '../../../src/survey/SchoolsScreen';
