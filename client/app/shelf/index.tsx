export { ShelfScreen as default } from '../../src/shelf/ShelfScreen';
