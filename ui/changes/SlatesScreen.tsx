import type { Slate } from '../../api/slates';
import { useState } from 'react';
import { useRouter } from 'expo-router';
import { View } from 'react-native';
import { messageOf } from '../data/api';
import { addSlate, isOpen, useSlates } from '../data/slates';
import { useCanEdit } from '../data/session';
import { useSlateInWork } from '../data/slate';
import { PageFrame } from '../kit/PageFrame';
import { Button, Empty, Field, LinkRow, LinkRows, Section, Skeleton, Trouble } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';

const STATES: Record<Slate['state'], string> = {
  work: 'in work',
  timed: 'set for a time',
  held: 'held back',
  applied: 'live',
  dropped: 'dropped',
};

/** All slates: those in work, and those that are done with. */
export function SlatesScreen() {
  const router = useRouter();
  const canEdit = useCanEdit();
  const slates = useSlates();
  const choose = useSlateInWork((state) => state.choose);
  const [naming, setNaming] = useState(false);
  const [name, setName] = useState('');
  const [trouble, setTrouble] = useState<string | null>(null);
  if (slates.isError)
    return <Trouble message={messageOf(slates.error)} retry={() => void slates.refetch()} />;
  if (slates.isPending) return <Skeleton />;
  const all = slates.data.slates;
  const rows = (some: readonly Slate[]) => (
    <LinkRows>
      {some.map((slate) => (
        <LinkRow
          key={slate.id}
          title={slate.name}
          text={`${slate.size} ${slate.size === 1 ? 'change' : 'changes'}, ${slate.owner}${slate.shared ? ', shared' : ''}`}
          mark={
            <Words size="small" strong tone={slate.state === 'held' ? 'rust' : 'soft'}>
              {STATES[slate.state]}
            </Words>
          }
          href={`/slates/${slate.id}`}
        />
      ))}
    </LinkRows>
  );
  const begin = async () => {
    try {
      const id = await addSlate(name);
      choose(id);
      setNaming(false);
      router.navigate(`/slates/${id}`);
    } catch (error) {
      setTrouble(messageOf(error));
    }
  };
  const open = all.filter(isOpen);
  const done = all.filter((slate) => !isOpen(slate));
  return (
    <PageFrame
      title="Slates"
      term="slate"
      back={{ path: '/today', label: 'Back to Today' }}
      aside={canEdit ? <Button icon="add" label="New slate" onPress={() => setNaming(true)} /> : null}
    >
      <Section title="In work">
        {open.length === 0 ? (
          <Empty
            title="No slate is in work"
            text="Changes collect on a slate, are shown with what they do to calls, and are put live together, now or at a time."
          />
        ) : (
          rows(open)
        )}
      </Section>
      {done.length > 0 ? <Section title="Done with">{rows(done)}</Section> : null}
      {naming ? (
        <Sheet
          title="New slate"
          open
          onClose={() => setNaming(false)}
          action={{ label: 'Begin this slate', disabled: !name.trim(), onPress: () => void begin() }}
        >
          <View>
            <Field label="Name of a new slate" value={name} onChange={setName} error={trouble} autoFocus />
          </View>
        </Sheet>
      ) : null}
    </PageFrame>
  );
}
