import type { OwnPage } from '../../api/own';
import { useState } from 'react';
import { View } from 'react-native';
import { DateTime } from 'luxon';

import { Button, Choice, Field, LinkRow, LinkRows, Section } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';
import { dayTime, type Do } from './shared';

/** All calls to a colleague for a while. */
export function OwnCoverPart({ page, act }: { page: OwnPage; act: Do }) {
  const [open, setOpen] = useState(false);
  const [query, setQuery] = useState('');
  const [days, setDays] = useState<'today' | '3' | '7'>('today');
  const { cover, timeZone } = page;
  const until = () => {
    const now = DateTime.now().setZone(timeZone);
    return (
      (days === 'today' ? now.endOf('day') : now.plus({ days: Number(days) }).endOf('day')).toISO() ?? ''
    );
  };
  const found = page.colleagues
    .filter(({ name }) => name.toLowerCase().includes(query.trim().toLowerCase()))
    .slice(0, 8);
  return (
    <Section title="Cover">
      <Words tone={cover ? 'accent' : 'soft'} strong={cover !== null}>
        {cover
          ? `All your calls go to ${cover.to}${cover.until ? `, until ${dayTime(cover.until, timeZone)}` : ' until you end it'}.`
          : 'Nobody covers for you: your plan decides.'}
      </Words>
      <View style={{ flexDirection: 'row' }}>
        {cover ? (
          <Button label="End it now" onPress={() => act({ kind: 'cover-end' })} />
        ) : (
          <Button label="Have a colleague cover" onPress={() => setOpen(true)} />
        )}
      </View>
      <Sheet title="Who covers for you?" open={open} onClose={() => setOpen(false)}>
        <Choice
          label="Until when"
          value={days}
          options={[
            { value: 'today', label: 'Today' },
            { value: '3', label: '3 days' },
            { value: '7', label: 'A week' },
          ]}
          onChange={setDays}
        />
        <Field label="Colleague" value={query} onChange={setQuery} />
        <LinkRows>
          {found.map(({ id, name }) => (
            <LinkRow
              key={id}
              title={name}
              onPress={() => {
                act({ kind: 'cover', person: id, until: until() });
                setOpen(false);
              }}
            />
          ))}
        </LinkRows>
        {found.length === 0 ? <Words tone="soft">No colleague fits.</Words> : null}
      </Sheet>
    </Section>
  );
}
