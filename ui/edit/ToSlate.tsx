import type { Slate } from '../../api/slates';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import type { SlateEntry } from '../../core/changes/slate';
import { messageOf } from '../data/api';
import { addSlate, putOnSlate, useCurrentSlate } from '../data/slates';
import { useSlateInWork } from '../data/slate';
import { useSession } from '../data/session';
import { space, TARGET } from '../kit/theme';
import { Button, Field, LinkRow, LinkRows } from '../kit/parts';
import { PressLink } from '../kit/PressLink';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';

/**
 * Puts changes on the slate in work; where there is none it is asked for first: one that is there, or a new one.
 * Where nobody else says that it is done (`onDone`), it is said here, with the way to the slate.
 * @param kind how the button stands out
 */
export function ToSlate({
  entries,
  put: putThem = async (slate) => void (await putOnSlate(slate, (await entries?.()) ?? [])),
  label = 'To the slate',
  kind = 'main',
  grow = false,
  disabled = false,
  onDone,
}: {
  readonly entries?: () =>
    | Promise<readonly (SlateEntry & { readonly why?: string })[]>
    | readonly SlateEntry[];
  /** How they are put there, where it is not as entries. */
  readonly put?: (slate: number) => Promise<void>;
  readonly label?: string;
  readonly kind?: 'main' | 'plain' | 'quiet';
  readonly grow?: boolean;
  readonly disabled?: boolean;
  readonly onDone?: (slate: number) => void;
}) {
  const { slate, mine } = useCurrentSlate();
  const { account } = useSession();
  const choose = useSlateInWork((state) => state.choose);
  const [laidOn, setLaidOn] = useState<number | null>(null);
  const [asking, setAsking] = useState(false);
  const [name, setName] = useState('');
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const put = async (which: Slate | number | null) => {
    setBusy(true);
    setTrouble(null);
    try {
      const id = which === null ? await addSlate(name) : typeof which === 'number' ? which : which.id;
      choose(id);
      await putThem(id);
      setAsking(false);
      setName('');
      if (onDone) onDone(id);
      else setLaidOn(id);
    } catch (error) {
      setTrouble(messageOf(error));
    } finally {
      setBusy(false);
    }
  };
  // A slate is said and chosen before anything goes on it: one that was only guessed is asked for.
  const chosen = useSlateInWork((state) => state.current);
  const isChosen = slate !== null && slate.id === chosen;
  const press = () => (isChosen ? void put(slate) : setAsking(true));
  return (
    <View style={grow ? { flexGrow: 1, flexBasis: 0 } : { maxWidth: '100%' }}>
      <Button kind={kind} label={label} busy={busy} disabled={disabled} onPress={press} />
      {isChosen ? (
        <Pressable
          role="button"
          aria-label={`Goes onto “${slate.name}”. Choose another slate`}
          onPress={() => setAsking(true)}
          style={{ minHeight: TARGET, justifyContent: 'center' }}
        >
          <Words size="small" tone="soft" lines={1}>
            {`On “${slate.name}”. Change`}
          </Words>
        </Pressable>
      ) : null}
      {laidOn === null ? null : (
        <PressLink href={`/slates/${laidOn}`} style={() => ({ minHeight: TARGET, justifyContent: 'center' })}>
          <Words size="small" live>
            On the slate now. Open the slate
          </Words>
        </PressLink>
      )}
      {trouble && !asking ? (
        <Words size="small" tone="rust" live>
          {trouble}
        </Words>
      ) : null}
      {asking ? (
        <Sheet
          title="On which slate?"
          open
          onClose={() => setAsking(false)}
          action={{
            label: 'Begin this slate',
            disabled: !name.trim(),
            busy,
            onPress: () => void put(null),
          }}
        >
          <Words tone="soft">
            A slate collects changes until they are put live together. Before that it shows what they do to
            calls, and all drills are run.
          </Words>
          <Field
            label="Name of a new slate"
            value={name}
            onChange={setName}
            error={trouble}
            autoFocus
            onSubmit={() => name.trim() && void put(null)}
          />
          {mine.length > 0 ? (
            <View style={{ gap: space(2) }}>
              <Words size="small" tone="soft">
                or one that is in work
              </Words>
              <LinkRows>
                {mine.map((each) => (
                  <LinkRow
                    key={each.id}
                    title={each.name}
                    text={`${each.size} ${each.size === 1 ? 'change' : 'changes'}, ${each.owner}${each.owner === account?.name ? '' : ', shared with you'}`}
                    onPress={() => void put(each)}
                  />
                ))}
              </LinkRows>
            </View>
          ) : null}
        </Sheet>
      ) : null}
    </View>
  );
}
