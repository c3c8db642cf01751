import { deskSavings, enoughDesks, type DeskSaving } from '../../core/desks';
import type { SavingsTask } from './savings';

/** What another roster would save: many weeks are gone through, beside the server. */
export = ({ estate, site, fromMs, toMs, chance }: SavingsTask): readonly DeskSaving[] =>
  deskSavings(estate, site, fromMs, toMs, chance, enoughDesks(estate, site, fromMs, toMs, chance));
