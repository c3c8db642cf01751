import { DateTime } from 'luxon';
import { useState } from 'react';
import { View } from 'react-native';
import { useQuery } from '@tanstack/react-query';
import type { LetterPage } from '../../api/records';
import { api, messageOf } from '../data/api';
import { fetchFile } from '../data/files';
import { PageFrame } from '../kit/PageFrame';
import { Button, LinkRow, LinkRows, Refused, Section, Skeleton, Trouble } from '../kit/parts';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';
import { CallPages } from './CallPages';

const sayDay = (day: string): string => DateTime.fromISO(day).setLocale('en').toFormat('d LLLL yyyy');

/** The week’s letter: what was lost and why, what was changed, what is owed. */
export function LetterScreen() {
  const [week, setWeek] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<unknown>(null);
  const path = `/api/calls/letter${week === null ? '' : `?week=${week}`}`;
  const letter = useQuery({
    queryKey: [path],
    queryFn: () => api<LetterPage>('GET', path),
    placeholderData: (before) => before,
  });
  if (letter.isError)
    return <Trouble message={messageOf(letter.error)} retry={() => void letter.refetch()} />;
  if (letter.isPending) return <Skeleton />;
  const { from, to, isWhole, parts } = letter.data;
  const go = (weeks: number) => setWeek(DateTime.fromISO(from).plus({ weeks }).toISODate());
  const save = (form: 'pdf' | 'json') => {
    setTrouble(null);
    fetchFile(`/api/calls/letter?week=${from}&form=${form}`, `week-${from}.${form}`).catch(setTrouble);
  };
  return (
    <PageFrame
      title="The week"
      text={`${sayDay(from)} to ${sayDay(to)}${isWhole ? '' : ', not over yet'}`}
      back={{ path: '/calls', label: 'Back to the calls' }}
    >
      <CallPages path="/calls/letter" />
      <Section>
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
          <Button label="Week before" onPress={() => go(-1)} />
          {isWhole ? <Button label="Week after" onPress={() => go(1)} /> : null}
          <Button kind="quiet" label="As PDF" onPress={() => save('pdf')} />
          <Button kind="quiet" label="As JSON" onPress={() => save('json')} />
        </View>
        <Refused error={trouble} />
      </Section>
      {parts.map(({ title, lines }) => (
        <Section key={title} title={title}>
          {lines.every(({ href }) => href === null) ? (
            lines.map(({ says }) => <Words key={says}>{says}</Words>)
          ) : (
            <LinkRows>
              {lines.map(({ says, href }) =>
                href === null ? (
                  <View key={says} style={{ paddingHorizontal: space(4), paddingVertical: space(3) }}>
                    <Words>{says}</Words>
                  </View>
                ) : (
                  <LinkRow key={says} title={says} href={href} />
                ),
              )}
            </LinkRows>
          )}
        </Section>
      ))}
    </PageFrame>
  );
}
