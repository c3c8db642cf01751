import { View } from 'react-native';
import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import { browserStorage } from '../data/tabStorage';
import { Button, LinkRow, LinkRows, Section } from '../kit/parts';
import { Words } from '../kit/Words';

/** Whether the hints were put away in this browser. */
const useHints = create<{ readonly away: boolean; readonly putAway: () => void }>()(
  persist((set) => ({ away: false, putAway: () => set({ away: true }) }), {
    name: 'hostler-hints-away',
    storage: browserStorage(),
  }),
);

const FIRST: readonly { readonly title: string; readonly text: string; readonly href: string }[] = [
  {
    title: 'See how somebody is reached',
    text: 'Choose a person: what rings when stands above, and changes as you change hour, status or caller',
    href: '/people',
  },
  {
    title: 'Find out why a phone did not ring',
    text: 'On the person’s page, More › Troubleshoot: from the complaint to what would do that',
    href: '/people',
  },
  {
    title: 'See what is wrong before anybody complains',
    text: 'Findings, each with what it does to calls and a mend to try on a slate',
    href: '/findings',
  },
];

/** Where to begin, for who has not put it away. */
export function FirstHints() {
  const isAway = useHints((state) => state.away);
  const putAway = useHints((state) => state.putAway);
  if (isAway) return null;
  return (
    <Section title="Where to begin" aside={<Button kind="quiet" label="Put away" onPress={putAway} />}>
      <LinkRows>
        {FIRST.map(({ title, text, href }) => (
          <LinkRow key={title} title={title} text={text} href={href} />
        ))}
      </LinkRows>
      <View>
        <Words size="small" tone="soft">
          Nothing that you change counts until you put it live, and all of it can be taken back. Press h for
          “How do I …”, ? for all keys; a ? beside a word explains it.
        </Words>
      </View>
    </Section>
  );
}
