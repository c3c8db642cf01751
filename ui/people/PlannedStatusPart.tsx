import type { PersonPage } from '../../api/people';
import type { PlannedStatus } from '../../api/planned-status';
import { useState } from 'react';
import { View } from 'react-native';
import { useMutation, useQuery } from '@tanstack/react-query';
import { DateTime } from 'luxon';
import { zoneNamed } from '../../core/zones';
import { api, besideNoField, faultOf, messageOf } from '../data/api';
import { personKey, queryClient } from '../data/data';
import { shownMoment, typedMoment } from '../edit/typedMoment';
import { Button, Choice, Field, IconButton, Refused } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';

interface Answer {
  readonly planned: readonly PlannedStatus[];
}

/** Statuses with dates, such as leave: from one moment to another, and back as it was. */
export function PlannedStatusPart({ page }: { readonly page: PersonPage }) {
  const path = `${personKey(page.person.id)}/planned-status`;
  const [open, setOpen] = useState(false);
  const planned = useQuery({ queryKey: [path], queryFn: () => api<Answer>('GET', path) });
  const end = useMutation({
    mutationFn: (id: number) => api<Answer>('DELETE', `${path}/${id}`),
    onSuccess: (answer) => {
      queryClient.setQueryData([path], answer);
      void queryClient.invalidateQueries({ queryKey: [personKey(page.person.id)] });
    },
  });
  const zone = zoneNamed(page.slice.timeZone);
  const said = (iso: string) =>
    DateTime.fromISO(iso, { zone }).setLocale('en').toFormat('ccc d LLL yyyy, HH:mm');
  const nameOf = (id: string) =>
    page.slice.statuses.find((each) => each.id === id)?.name ?? 'a status that is gone';
  return (
    <View style={{ gap: space(1) }}>
      {(planned.data?.planned ?? []).map((each) => (
        <View key={each.id} style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}>
          <Words style={{ flex: 1 }} strong={each.state === 'on'}>
            {`${nameOf(each.status)} ${each.state === 'on' ? 'since' : 'from'} ${said(each.from)} until ${said(each.to)}`}
          </Words>
          <IconButton
            icon="close"
            label={`${each.state === 'on' ? 'End now' : 'Take back'}: ${nameOf(each.status)} until ${said(each.to)}`}
            onPress={() => end.mutate(each.id)}
          />
        </View>
      ))}
      {end.isError ? <Words tone="rust">{messageOf(end.error)}</Words> : null}
      <View style={{ flexDirection: 'row' }}>
        <Button kind="quiet" icon="add" label="With dates, such as leave" onPress={() => setOpen(true)} />
      </View>
      {open ? <PlanSheet page={page} path={path} onClose={() => setOpen(false)} /> : null}
    </View>
  );
}

function PlanSheet({
  page,
  path,
  onClose,
}: {
  readonly page: PersonPage;
  readonly path: string;
  readonly onClose: () => void;
}) {
  const zone = zoneNamed(page.slice.timeZone);
  const tomorrow = DateTime.now().setZone(zone).plus({ days: 1 }).startOf('day');
  const [status, setStatus] = useState<string | null>(null);
  const [from, setFrom] = useState(shownMoment(tomorrow));
  const [to, setTo] = useState(shownMoment(tomorrow.plus({ days: 7 })));
  const read = (text: string) => typedMoment(text, page.slice.timeZone);
  const wrong = (text: string) => (read(text) ? null : 'A day and hour such as 2026-12-01 00:00');
  const add = useMutation({
    mutationFn: (body: object) => api<Answer>('POST', path, body),
    onSuccess: (answer) => {
      queryClient.setQueryData([path], answer);
      onClose();
    },
  });
  const ready = status !== null && read(from) !== null && read(to) !== null;
  const name = page.slice.statuses.find(({ id }) => id === status)?.name;
  const send = () => {
    if (ready) add.mutate({ status, from: read(from)?.toISO(), to: read(to)?.toISO() });
  };
  return (
    <Sheet
      title={`A status with dates for ${page.person.name}`}
      open
      onClose={onClose}
      action={{
        label: name ? `${name} until ${to}` : 'Choose the status',
        disabled: !ready,
        busy: add.isPending,
        onPress: send,
      }}
    >
      <Choice
        titled
        label="Status"
        value={status}
        options={page.slice.statuses.map((each) => ({ value: each.id, label: each.name }))}
        onChange={setStatus}
      />
      <Field
        label="From, as 2026-12-01 08:00"
        mono
        value={from}
        onChange={setFrom}
        onSubmit={send}
        error={wrong(from) ?? faultOf(add.error, 'from')}
      />
      <Field
        label="Until, as 2026-12-08 08:00"
        mono
        value={to}
        onChange={setTo}
        onSubmit={send}
        error={wrong(to) ?? faultOf(add.error, 'to')}
      />
      <Words tone="soft">
        Hostler sets it at that moment and sets it back as it was, unless somebody has set another status
        meanwhile. Drawings of a moment to come go by the status of now.
      </Words>
      <Refused error={besideNoField(add.error)} />
    </Sheet>
  );
}
