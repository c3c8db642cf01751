import { templatePlan } from '../core/editing';
import type { Person, Template } from '../core/estate';

/** The templates that the generated crews follow, by what marks their plan. */
const TEMPLATES: readonly (Omit<Template, 'plan'> & { readonly fits: (plan: string) => boolean })[] = [
  ...(
    [
      ['early', 'early'],
      ['late', 'late'],
      ['night-watch', 'night'],
    ] as const
  ).map(([schedule, word]) => ({
    id: `agents-${word}`,
    name: `Terminal agents, ${word} shift`,
    note: 'The shared desk; the own mobile in the shift only.',
    fits: (plan: string) => plan.includes('own:hot-desk:1') && plan.includes(`"${schedule}"`),
  })),
  {
    id: 'deck-crew',
    name: 'Deck crew',
    note: 'At sea the softphone first, then the mobile by key: coverage comes and goes.',
    fits: (plan) => plan.includes('"r-sea"') && !plan.includes('duty-engineers'),
  },
  {
    id: 'engine-crew',
    name: 'Engine crew',
    note: 'As the deck crew, but an unanswered call at sea goes to the duty engineers.',
    fits: (plan) => plan.includes('"r-sea"') && plan.includes('duty-engineers'),
  },
  {
    id: 'bookings-home',
    name: 'Bookings at home',
    note: 'The laptop, the mobile three seconds later, then the colleagues.',
    fits: (plan) => plan.includes('own:desktop-app:1') && plan.includes('"bookings"'),
  },
  {
    id: 'season',
    name: 'Seasonal crew',
    note: 'Nothing rings before the season.',
    fits: (plan) => plan.includes('r-season'),
  },
];

/** How many of the deck crew have made their plan ring longer than the template says. */
const DEPARTED = 2;

/** Lets people follow the template that their plan is of; the last deck hands among them have departed from it. */
export function withTemplates(people: readonly Person[]): {
  readonly people: readonly Person[];
  readonly templates: readonly Template[];
} {
  const templates: Template[] = [];
  const following = people.map((person): Person => {
    const plan = templatePlan(person);
    const text = JSON.stringify(plan);
    const found = TEMPLATES.find(({ fits }) => fits(text));
    if (!found) return person;
    const { fits: _fits, ...template } = found;
    if (!templates.some(({ id }) => id === template.id)) templates.push({ ...template, plan });
    const { lines, endpoints, plan: own, ...rest } = person;
    return { ...rest, template: template.id, lines, endpoints, plan: own };
  });
  const deck = following.filter(({ template }) => template === 'deck-crew').slice(-DEPARTED);
  return {
    templates,
    people: following.map((person) =>
      deck.includes(person)
        ? { ...person, plan: { ...person.plan, otherwise: longer(person.plan.otherwise) } }
        : person,
    ),
  };
}

const longer = (treatment: Person['plan']['otherwise']) => ({
  ...treatment,
  stages: treatment.stages.map((stage) => ('ring' in stage ? { ...stage, forMs: 30_000 } : stage)),
});
