import { takeBlock } from './block';

test('blocks that are held at once are all different, and one that is free again can be had again', async () => {
  const blocks = await Promise.all(Array.from({ length: 100 }, takeBlock));
  expect(new Set(blocks.map(({ all }) => all)).size).toBe(100);
  const [first] = blocks;
  const addresses = Array.from({ length: 250 }, () => first!.next());
  expect(new Set(addresses).size).toBe(250);
  expect(() => first!.next()).toThrow('too many places');
  for (const { free } of blocks) free();
});
