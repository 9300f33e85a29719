export { HistoryScreen as default } from '../../../src/survey/HistoryScreen';
