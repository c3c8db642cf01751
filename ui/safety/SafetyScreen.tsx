import { useState } from 'react';
import type { SafetyRow } from '../../api/safety';
import { sayBasis, sayPlaceFault } from '../../core/emergency';
import { showNumber } from '../../core/calls/dialling';
import { messageOf } from '../data/api';
import { useSafety } from '../data/safety';
import { PageFrame } from '../kit/PageFrame';
import { Choice, Empty, LinkRow, LinkRows, Section, Skeleton, Trouble } from '../kit/parts';
import { SearchField } from '../kit/SearchField';
import { Words } from '../kit/Words';

type Which = 'wrong' | 'all';
/** Rows that are shown before more is asked for by searching. */
const MOST = 200;

const textOf = ({ place, basis, faults, callBack }: SafetyRow): string =>
  [
    place ? `${place}: ${sayBasis(basis)}` : 'No place is known',
    callBack ? `Shows ${showNumber(callBack)}` : 'Has no number to show',
    ...faults.map(sayPlaceFault),
  ].join('. ');

/** Every phone that an emergency call can come from: where it is taken to be, how sure that is, and what is wrong. */
export function SafetyScreen() {
  const safety = useSafety();
  const [which, setWhich] = useState<Which>('wrong');
  const [query, setQuery] = useState('');
  if (safety.isError)
    return <Trouble message={messageOf(safety.error)} retry={() => void safety.refetch()} />;
  if (safety.isPending) return <Skeleton rows={6} />;
  const { rows, numbers } = safety.data;
  const wrong = rows.filter(({ faults }) => faults.length > 0);
  const wanted = query.trim().toLowerCase();
  const found = (which === 'wrong' ? wrong : rows).filter(({ name, label, place, siteName }) =>
    [name, label, place ?? '', siteName ?? ''].some((each) => each.toLowerCase().includes(wanted)),
  );
  const count = (test: (row: SafetyRow) => boolean) => rows.filter(test).length;
  return (
    <PageFrame
      title="Places for emergencies"
      text={`Where each phone is, for calls to ${numbers.join(', ')}`}
      back={null}
    >
      <Section title="How sure">
        <Words>
          {`${count(({ basis }) => basis === 'site-of-phone' || basis === 'address-range')} of ${rows.length} phones are at a site, of ${count(({ basis }) => basis === 'said')} their owners said where, and of ${count(({ basis }) => basis === 'unknown')} nobody knows.`}
        </Words>
        <Words tone="soft">
          An emergency call carries the place of its phone and the number to call back. Mobiles and landlines
          call by their own carrier and are not listed.
        </Words>
      </Section>
      <Section title="Phones">
        <Choice
          label="Which phones"
          value={which}
          options={[
            { value: 'wrong', label: `Something is wrong (${wrong.length})` },
            { value: 'all', label: `All (${rows.length})` },
          ]}
          onChange={setWhich}
        />
        <SearchField
          label="Search phones"
          placeholder="Person, phone, place or site"
          value={query}
          onChange={setQuery}
        />
        {found.length === 0 ? (
          <Empty
            title={wanted === '' ? 'Nothing is wrong' : 'No such phone'}
            text={wanted === '' ? 'Each phone has a place that can be sent.' : 'Search by another word.'}
          />
        ) : null}
        <LinkRows>
          {found.slice(0, MOST).map((row) => (
            <LinkRow
              key={row.endpoint}
              title={`${row.name}: ${row.label}`}
              text={textOf(row)}
              href={`/safety/${encodeURIComponent(row.endpoint)}`}
            />
          ))}
        </LinkRows>
        {found.length > MOST ? (
          <Words tone="soft">{`${found.length - MOST} more: search for them.`}</Words>
        ) : null}
      </Section>
    </PageFrame>
  );
}
