import type { Person } from '../../core/estate';
import type { Answer, TestServer } from '.';

/** What tests of slates share: asking as the specialist, beginning a slate, changing a person on it. */
export function slateTools(server: () => TestServer) {
  const ask = (method: string, path: string, body?: unknown): Promise<Answer> =>
    server().ask(method, path, { as: 'specialist', ...(body === undefined ? {} : { body }) });
  const newSlate = async (name: string): Promise<number> =>
    Number((await ask('POST', '/api/slates', { name })).body.id);
  const current = async (id: string): Promise<Person> =>
    (await ask('GET', `/api/people/${id}`)).body.person as Person;
  const put = async (slate: number, id: string, change: (person: Person) => Person): Promise<Answer> => {
    const base = await current(id);
    return ask('PUT', `/api/slates/${slate}/entries/person/${id}`, { base, after: change(base) });
  };
  return { ask, newSlate, current, put };
}
