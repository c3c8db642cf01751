import type { NewsTopic } from '../../api/news';
import { openDb, openKeeper } from '../db';
import { openNews } from '../http';
import { demoEstate, serve, testServer, type TestServer } from '../test';

/** Two servers on one database. */
let first: TestServer;
let second: TestServer;
beforeAll(async () => {
  first = await testServer(demoEstate());
  const [db, keeper] = [openDb(first.config), openKeeper(first.config)];
  second = await serve({
    config: first.config,
    db,
    keeper,
    drop: async () => {
      await Promise.all([db.end(), keeper.end()]);
    },
  });
});
afterAll(async () => {
  await second.stop();
  await second.drop();
  await first.stop();
});

/** A page that follows what happens: the topics of each event, until as many have come. */
async function follow(server: TestServer, as: 'specialist' | 'staff') {
  const stop = new AbortController();
  const answer = await fetch(`${server.url}/api/events`, {
    headers: { Cookie: server.cookies[as] },
    signal: stop.signal,
  });
  const reader = answer.body!.pipeThrough(new TextDecoderStream()).getReader();
  let text = '';
  const topics = (): readonly (readonly NewsTopic[])[] =>
    [...text.matchAll(/^event: changed\ndata: (.*)$/gm)].map(
      ([, data]) => (JSON.parse(data!) as { topics: NewsTopic[] }).topics,
    );
  return {
    status: answer.status,
    /** Reads on until something has been told of these topics. */
    until: async (wanted: readonly NewsTopic[]) => {
      while (!wanted.every((topic) => topics().some((each) => each.includes(topic)))) {
        const { value, done } = await reader.read();
        if (done) throw new Error('the stream ended');
        text += value;
      }
      return topics();
    },
    end: () => stop.abort(),
  };
}

test('what is changed through one server is told to whoever follows another', async () => {
  const [here, there] = [await follow(first, 'specialist'), await follow(second, 'specialist')];
  // The first event says that the line is up; what was there before is no news.
  expect((await there.until([]))[0] ?? []).toEqual([]);
  const asked = await first.ask('GET', '/api/people/ines', { as: 'specialist' });
  // Both have looked once, so that a change is one.
  await new Promise<void>((done) => {
    const news = openNews(first.db, 1);
    const stop = news.subscribe((topics) => {
      if (!topics.includes('slates')) return;
      stop();
      news.close();
      done();
    });
    const again = setInterval(() => {
      void first.ask('POST', '/api/slates', { as: 'specialist', body: { name: 'News' } });
    }, 100);
    void there.until(['slates']).then(() => clearInterval(again));
  });
  const put = await first.ask('PUT', '/api/people/ines', {
    as: 'specialist',
    body: {
      ...asked.body,
      slice: undefined,
      behind: undefined,
      signedOn: undefined,
      person: { ...asked.body.person, maxCalls: 3 },
    },
  });
  expect(put.status).toBe(200);
  for (const page of [here, there]) {
    expect((await page.until(['estate', 'record'])).flat()).toEqual(
      expect.arrayContaining(['estate', 'record']),
    );
    page.end();
  }
});

test('nobody who listens is nobody who asks: the database is left alone', async () => {
  let asked = 0;
  const counting = {
    query: ((...args: Parameters<typeof first.db.query>) => {
      asked += 1;
      return first.db.query(...args);
    }) as typeof first.db.query,
  };
  const news = openNews(counting, 1);
  expect(asked).toBe(0);
  await new Promise<void>((done) => {
    const stop = news.subscribe(() => {
      stop();
      done();
    });
    const again = setInterval(() => {
      if (asked < 2) return;
      clearInterval(again);
      void first.ask('POST', '/api/slates', { as: 'specialist', body: { name: 'More news' } });
    }, 5);
  });
  const then = asked;
  news.close();
  await first.ask('POST', '/api/slates', { as: 'specialist', body: { name: 'Not heard' } });
  expect(asked).toBeLessThanOrEqual(then + 1);
});

test('staff follow nothing of this', async () => {
  expect((await follow(first, 'staff')).status).toBe(403);
});
