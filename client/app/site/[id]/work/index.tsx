export { OrdersScreen as default } from '../../../../src/work/OrdersScreen';
