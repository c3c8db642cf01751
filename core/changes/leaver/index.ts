export { canBeHanded, leave, type Leave, type Leaving, type Loose } from './leave';
