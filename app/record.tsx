export { RecordScreen as default } from '../ui/screens/RecordScreen';
