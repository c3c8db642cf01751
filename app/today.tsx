export { TodayScreen as default } from '../ui/screens/TodayScreen';
