export { canBeHanded, leave, type Leave, type Leaving, type Loose } from './leave';
export { removePhone, type Removal } from './remove-phone';
