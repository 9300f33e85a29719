import { later } from '../../../../src/shell/later';

export default later('OrdersScreen');
