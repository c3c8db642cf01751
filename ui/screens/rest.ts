/** All screens but the list of people: fetched together, after what the first screen needs. */
export { GroupScreen } from './GroupScreen';
export { HoursScreen } from './HoursScreen';
export { ImportScreen } from './ImportScreen';
export { MenuScreen } from './MenuScreen';
export { NumberScreen } from './NumberScreen';
export { PersonScreen } from './PersonScreen';
export { RecordScreen } from './RecordScreen';
export { RoutesScreen } from './RoutesScreen';
export { SignIn } from './SignIn';
export { StatusScreen } from './StatusScreen';
export { TemplateScreen } from './TemplateScreen';
export { TemplatesScreen } from './TemplatesScreen';
export { TodayScreen } from './TodayScreen';
export { TryScreen } from './TryScreen';
