export { ImportScreen as default } from '../ui/screens/ImportScreen';
