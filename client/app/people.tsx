export { PeopleScreen as default } from '../src/firm/PeopleScreen';
