export { SitesScreen as default } from '../src/sites/SitesScreen';
