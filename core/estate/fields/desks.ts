import { NAMED, choice, count, flag, id, object, text, type FieldsOf } from './kinds';
import type { Desk, DeskPromise, RosterEntry } from '../desk-types';

export const allowed: FieldsOf<NonNullable<Desk['allowed']>> = {
  people: id('people'),
  templates: id('who follow a template'),
  statuses: id('who have a status'),
};
export const signOff: FieldsOf<NonNullable<Desk['signOff']>> = {
  atShiftEnd: flag('at the end of the shift'),
  afterIdleS: count('after so many seconds without a call or key'),
  dailyAt: text('every day at'),
};
export const spot: FieldsOf<NonNullable<Desk['spot']>> = { column: count('column'), row: count('row') };
export const desk: FieldsOf<Desk> = {
  ...NAMED,
  device: id('phone'),
  area: text('area'),
  spot: object('place on the plan', () => spot),
  allowed: object('who may sign on', () => allowed),
  credential: choice('signs on with'),
  taken: choice('where somebody sits already'),
  signOff: object('signed off', () => signOff),
};
export const deskPromise: FieldsOf<DeskPromise> = {
  schedule: id('hours'),
  keeps: count('part of half hours in which everybody finds a desk'),
};
export const roster: FieldsOf<RosterEntry> = {
  schedule: id('hours'),
  site: id('site'),
  share: count('how likely they come'),
};
