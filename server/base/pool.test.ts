import { closePools, workerPool } from './pool';

test('whoever waits for a thread that is ended under them is told that the server is ending', async () => {
  const pool = workerPool<{ readonly bytes: Uint8Array }, unknown>('server/reading/worker.ts');
  const answer = pool.run({ bytes: Buffer.from('name,extension\nAda,5901\n') });
  await Promise.all([
    expect(answer).rejects.toMatchObject({
      status: 503,
      message: 'The server is ending. Try again.',
      headers: { 'Retry-After': '5' },
    }),
    closePools(),
  ]);
});
