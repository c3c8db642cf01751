import type { Route } from '../http';
import { specialistRoutes } from './specialist-routes';
import { staffRoutes } from './staff-routes';

/** People's own page, from both sides. */
export const ownRoutes: readonly Route[] = [...staffRoutes, ...specialistRoutes];
