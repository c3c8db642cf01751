import { useState } from 'react';
import { View } from 'react-native';
import type { TimesPage } from '../../api/records';
import { useLongWork } from '../data/calls';
import { StepCurve } from '../drawings/StepCurve';
import { PageFrame } from '../kit/PageFrame';
import { Choice, Field, Fold, Section } from '../kit/parts';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';
import { CallPages } from './CallPages';
import { DaysChoice, Figures, Worked, type Days } from './parts';
import { sayBand, sayShare } from './words';

const PHONES = [
  ['all', 'All phones'],
  ['desk', 'Desk phones'],
  ['mobile', 'Mobiles'],
  ['desktop-app', 'Softphones on computers'],
  ['mobile-app', 'Softphones on mobiles'],
] as const;
type Phone = (typeof PHONES)[number][0];
const hourIn = (text: string): number | null => {
  const hour = Number(text.trim());
  return /^\d{1,2}$/.test(text.trim()) && hour <= 24 ? hour : null;
};

/** How soon phones are answered, and what ringing longer brings. @param person whose, where it is somebody’s */
export function TimesScreen({ person, name }: { readonly person?: string; readonly name?: string }) {
  const [days, setDays] = useState<Days>(28);
  const [phone, setPhone] = useState<Phone>('all');
  const [from, setFrom] = useState('');
  const [to, setTo] = useState('');
  const hours = from.trim() === '' && to.trim() === '' ? null : [hourIn(from), hourIn(to)];
  const isWhole = hours === null || hours.every((hour) => hour !== null);
  const query = new URLSearchParams({
    days: String(days),
    ...(phone === 'all' ? {} : { phone }),
    ...(person ? { person } : {}),
    ...(hours && isWhole ? { fromHour: String(hours[0]), toHour: String(hours[1]) } : {}),
  });
  const work = useLongWork<TimesPage>(isWhole ? `/api/calls/times?${query.toString()}` : null);
  return (
    <PageFrame
      title={name ? `Answer times: ${name}` : 'Answer times'}
      term="answer-times"
      text="How soon phones are answered once they ring"
      back={
        person
          ? { path: `/people/${encodeURIComponent(person)}`, label: `Back to ${name ?? person}` }
          : { path: '/calls', label: 'Back to the calls' }
      }
    >
      {person ? null : <CallPages path="/calls/times" />}
      <Section>
        <DaysChoice days={days} onDays={setDays} />
        <Choice
          label="Which phones"
          value={phone}
          options={PHONES.map(([value, label]) => ({ value, label }))}
          onChange={setPhone}
        />
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
          {(
            [
              ['From hour', from, setFrom],
              ['Up to hour', to, setTo],
            ] as const
          ).map(([label, value, set]) => (
            <View key={label} style={{ flexGrow: 1, flexBasis: 120, maxWidth: 200 }}>
              <Field
                label={label}
                mono
                keyboard="decimal-pad"
                value={value}
                onChange={set}
                hint={value === '' ? 'Empty: all day' : undefined}
                error={value.trim() !== '' && hourIn(value) === null ? 'From 0 to 24' : null}
              />
            </View>
          ))}
        </View>
      </Section>
      <Worked work={work} isEmpty={({ n }) => n === 0}>
        {(times) => <TimesView times={times} />}
      </Worked>
    </PageFrame>
  );
}

const seconds = (ms: number) => `${Number((ms / 1000).toFixed(1))} s`;

function TimesView({ times }: { readonly times: TimesPage }) {
  const { n, answered, curve, gains, shares, isFew } = times;
  const reached = shares.filter(({ atMs }) => atMs !== null);
  const label = `Share answered by time: ${gains.map(({ fromMs, share0 }) => `${fromMs / 1000} s ${sayShare(share0)}`).join(', ')}`;
  return (
    <>
      <Section
        title={`${n.toLocaleString('en')} phones rang, ${answered.toLocaleString('en')} were answered`}
      >
        {isFew ? (
          <Words tone="ochre" strong>
            Fewer than 30 answers: too few to go by.
          </Words>
        ) : null}
        <View style={{ maxWidth: 820 }}>
          <StepCurve curve={curve} label={label} />
        </View>
        <Words tone="soft" size="small">
          Where a phone stopped ringing before anybody answered, it counts up to then (Kaplan and Meier). The
          band holds the true share in 95 of 100 such cases.
        </Words>
        {reached.length > 0 ? (
          <Words>
            {`${reached.map(({ share, atMs }) => `${share * 100} % are answered after ${seconds(atMs ?? 0)}`).join('; ')}.`}
          </Words>
        ) : (
          <Words>However long they ring, fewer than half are answered.</Words>
        )}
      </Section>
      <Section title="What five more seconds bring">
        <Figures
          label="What five more seconds bring"
          headings={['Ringing', 'Answered', '5 s more', 'Likely']}
          rows={gains.map(({ fromMs, share0, share, low, high }) => [
            seconds(fromMs),
            sayShare(share0),
            sayShare(share),
            sayBand(low, high),
          ])}
          first={1}
        />
        <Fold title="The curve as a table">
          <Section>
            <Figures
              label="The curve as a table"
              headings={['After', 'Still ringing', 'Answered', 'Band']}
              rows={thin(curve).map(({ atMs, atRisk, share, low, high }) => [
                seconds(atMs),
                String(atRisk),
                sayShare(share),
                low === null || high === null ? '' : sayBand(low, high),
              ])}
              first={1}
            />
          </Section>
        </Fold>
      </Section>
    </>
  );
}

const thin = <T,>(curve: readonly T[]): readonly T[] =>
  curve.filter((_, n) => n % Math.max(1, Math.ceil(curve.length / 40)) === 0);
