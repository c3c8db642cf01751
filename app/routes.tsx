export { RoutesScreen as default } from '../ui/screens/RoutesScreen';
