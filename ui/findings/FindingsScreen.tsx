import { useMemo, useState } from 'react';
import { View } from 'react-native';
import type { Weight } from '../../core/assurance/checks';
import { api, messageOf } from '../data/api';
import { saveFile } from '../data/files';
import { useFindings } from '../data/findings';
import { useCanEdit, useSession } from '../data/session';
import { space, useIsWide } from '../kit/theme';
import { FindingsTable } from './FindingsTable';
import { FoundRow } from './FoundRow';
import { PageFrame } from '../kit/PageFrame';
import { Button, Choice, Empty, Field, Section, Skeleton, Trouble } from '../kit/parts';
import { Words } from '../kit/Words';

type Which = 'open' | 'mine' | 'off' | 'accepted';
const WHICH = [
  { value: 'open', label: 'Open' },
  { value: 'mine', label: 'Mine' },
  { value: 'off', label: 'Put off' },
  { value: 'accepted', label: 'Accepted' },
] as const;
const FIRST = 40;

/** Every finding of the estate, by weight; filtered by what was decided, weight, check and words. */
export function FindingsScreen() {
  const found = useFindings();
  const { account } = useSession();
  const canEdit = useCanEdit();
  const wide = useIsWide();
  const [which, setWhich] = useState<Which>('open');
  const [weight, setWeight] = useState<Weight | 'all'>('all');
  const [text, setText] = useState('');
  const [shown, setShown] = useState(FIRST);
  const data = found.data;
  const rows = useMemo(() => {
    const words = text.trim().toLowerCase();
    const titles = new Map(data?.checks.map(({ id, title }) => [id, title]));
    return (data?.findings ?? []).filter(
      ({ isOpen, mark, weight: heavy, subject, says, check }) =>
        (which === 'open'
          ? isOpen
          : which === 'mine'
            ? mark?.assignee === account?.name
            : which === 'off'
              ? !isOpen && mark?.putOffUntil !== null && !mark?.acceptedWhy
              : Boolean(mark?.acceptedWhy)) &&
        (weight === 'all' || heavy === weight) &&
        (words === '' || `${subject.name} ${says} ${titles.get(check) ?? ''}`.toLowerCase().includes(words)),
    );
  }, [data, which, weight, text, account]);
  if (found.isError) return <Trouble message={messageOf(found.error)} retry={() => void found.refetch()} />;
  if (!data) return <Skeleton />;
  const checks = new Map(data.checks.map((check) => [check.id, check]));
  const count = (heavy: Weight) =>
    data.findings.filter((each) => each.isOpen && each.weight === heavy).length;
  const save = async () => {
    const log = await api<object>('GET', '/api/findings/sarif');
    saveFile('findings.sarif', JSON.stringify(log), 'application/sarif+json');
  };
  const asTable = wide && rows.length > 0;
  const filters = (
    <>
      <Choice label="What was decided" value={which} options={WHICH} onChange={setWhich} />
      <Choice
        label="Weight"
        value={weight}
        options={[
          { value: 'all', label: 'All' },
          { value: 'fault', label: 'Faults' },
          { value: 'risk', label: 'Risks' },
          { value: 'note', label: 'Notes' },
        ]}
        onChange={setWeight}
      />
    </>
  );
  return (
    <PageFrame
      title="Findings"
      term="finding"
      text={`${count('fault')} faults  ${count('risk')} risks  ${count('note')} notes`}
      back={{ path: '/today', label: 'Back to Today' }}
      aside={canEdit ? <Button kind="quiet" label="Export as SARIF" onPress={() => void save()} /> : null}
    >
      <Section>
        <Field label="Search findings" value={text} onChange={setText} />
        {asTable ? null : filters}
      </Section>
      <Section>
        {rows.length === 0 ? (
          <Empty
            title={data.findings.length === 0 ? 'Nothing was found' : 'No finding is like this'}
            text={
              data.findings.length === 0
                ? `${data.checks.length} checks have looked at the whole estate.`
                : 'Choose another filter, or search for less.'
            }
          />
        ) : wide ? (
          <FindingsTable
            rows={rows}
            checks={checks}
            bar={
              <View style={{ flex: 1, flexDirection: 'row', flexWrap: 'wrap', gap: space(4) }}>
                {filters}
              </View>
            }
          />
        ) : (
          <View role="list">
            {rows.slice(0, shown).map((finding) => (
              <FoundRow key={finding.key} finding={finding} check={checks.get(finding.check)} />
            ))}
          </View>
        )}
        {rows.length > shown && !wide ? (
          <View style={{ flexDirection: 'row', gap: space(2), alignItems: 'center' }}>
            <Button
              label={`Show ${Math.min(FIRST, rows.length - shown)} more`}
              onPress={() => setShown(shown + FIRST)}
            />
            <Words tone="soft">{`of ${rows.length}`}</Words>
          </View>
        ) : null}
      </Section>
    </PageFrame>
  );
}
