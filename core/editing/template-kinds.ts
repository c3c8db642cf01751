import type { Plan, RingTarget, Treatment } from '../estate';

export const TEMPLATE_KINDS = ['shared-desk-or-mobile', 'desk-then-mobile', 'desk-and-mobile'] as const;
/** A plan to begin a template with, in which places stand for what each person has. */
export type TemplateKind = (typeof TEMPLATE_KINDS)[number];

const SHARED = 'own:hot-desk:1';
const DESK = 'own:desk:1';
const MOBILE = 'own:mobile:1';
const STEP_MS = 20_000;

const stepsOf = (...steps: readonly (readonly RingTarget[])[]): Treatment => ({
  stages: steps.map((ring) => ({ ring, forMs: STEP_MS })),
  ending: { kind: 'mailbox' },
});

/**
 * Whoever is signed on at a shared desk is rung there; whoever is signed on nowhere, on their mobile, which rings only
 * while no shared desk of theirs is registered.
 */
const BEGUN: Readonly<Record<TemplateKind, Treatment>> = {
  'shared-desk-or-mobile': stepsOf([{ endpoint: SHARED }, { endpoint: MOBILE, unlessRegistered: SHARED }]),
  'desk-then-mobile': stepsOf([{ endpoint: DESK }], [{ endpoint: MOBILE }]),
  'desk-and-mobile': stepsOf([{ endpoint: DESK }, { endpoint: MOBILE }]),
};

export const usualPlan = (kind: TemplateKind): Plan => ({ rules: [], otherwise: BEGUN[kind] });

export const sayTemplateKind = (kind: TemplateKind): string =>
  ({
    'shared-desk-or-mobile': 'Shared desk or mobile',
    'desk-then-mobile': 'Desk phone, then mobile',
    'desk-and-mobile': 'Desk phone and mobile at once',
  })[kind];
