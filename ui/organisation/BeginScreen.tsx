import { useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import { prefixesOf } from '../../core/editing';
import { isZone } from '../../core/zones';
import { besideNoField, faultOf, messageOf } from '../data/api';
import { useBegin, useOrganisation } from '../data/organisation';
import { useCanEdit } from '../data/session';
import { asClock, ClockSpan, isClock } from '../edit/ClockSpan';
import { PageFrame } from '../kit/PageFrame';
import { Button, Field, Refused, Section, Skeleton, Trouble } from '../kit/parts';
import { WorkBar } from '../kit/WorkBar';
import { Words } from '../kit/Words';
import { BeginSteps } from './BeginSteps';
import { fieldLabel } from '../kit/fieldLabel';

const whole = (text: string) => (/^\d{1,6}$/.test(text) ? Number(text) : null);
/** Where the browser is, as a beginning. */
const hereZone = () => {
  const { timeZone } = Intl.DateTimeFormat().resolvedOptions();
  return isZone(timeZone) ? timeZone : 'UTC';
};
const hereCountry = () => /-([A-Z]{2})\b/.exec(globalThis.navigator?.language ?? '')?.[1] ?? 'CA';

/** A new organisation: what calls need before anybody can be added. All of it can be changed later. */
export function BeginScreen() {
  const router = useRouter();
  const canEdit = useCanEdit();
  const page = useOrganisation();
  const begin = useBegin();
  const [name, setName] = useState('');
  const [country, setCountry] = useState(hereCountry);
  const [zone, setZone] = useState(hereZone);
  const [outside, setOutside] = useState('9');
  const [areas, setAreas] = useState('');
  const [digits, setDigits] = useState('4');
  const [trunk, setTrunk] = useState('Main trunk');
  const [channels, setChannels] = useState('10');
  const [opens, setOpens] = useState('08:00');
  const [closes, setCloses] = useState('17:00');
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (page.isPending) return <Skeleton />;
  if (!canEdit) return <Trouble message="An organisation is begun by a mobility specialist." />;
  if (!page.data.unbegun)
    return (
      <PageFrame title={page.data.name} back={{ path: '/today', label: 'Back to Today' }}>
        <BeginSteps people={page.data.counts.people} />
      </PageFrame>
    );
  const { nationalPrefix, internationalPrefix } = prefixesOf(country);
  const fault = (path: string) => faultOf(begin.error, path);
  const wrong =
    name.trim() === '' ||
    !/^[A-Z]{2}$/.test(country) ||
    !isZone(zone) ||
    whole(digits) === null ||
    whole(channels) === null ||
    !isClock(opens) ||
    !isClock(closes);
  const send = () => {
    if (wrong || begin.isPending) return;
    begin.mutate(
      {
        name: name.trim(),
        country,
        timeZone: zone,
        outsideCode: outside,
        areaCodes: areas.split(/[\s,;]+/).filter(Boolean),
        extensionDigits: whole(digits) ?? 4,
        trunk: { name: trunk.trim(), channels: whole(channels) ?? 1 },
        opens: asClock(opens),
        closes: asClock(closes),
      },
      { onSuccess: () => router.navigate('/begin') },
    );
  };
  return (
    <PageFrame
      title="A new organisation"
      text="Everything here can be changed later"
      back={null}
      bar={
        <WorkBar label="Begin">
          <Refused error={besideNoField(begin.error)} />
          <Button kind="main" label="Begin" disabled={wrong} busy={begin.isPending} onPress={send} />
        </WorkBar>
      }
    >
      <View style={{ maxWidth: 560 }}>
        <Section title="What it is">
          <Field
            label={fieldLabel('estate', 'name')}
            autoFocus
            value={name}
            onChange={setName}
            onSubmit={send}
            error={fault('name')}
          />
          <Field
            label="Country, two letters (ISO 3166)"
            mono
            value={country}
            onChange={(text) =>
              setCountry(
                text
                  .toUpperCase()
                  .replace(/[^A-Z]/g, '')
                  .slice(0, 2),
              )
            }
            onSubmit={send}
            error={fault('country')}
            hint={
              country.length === 2
                ? `Before national numbers ${nationalPrefix || 'nothing'}, before numbers abroad ${internationalPrefix}`
                : null
            }
          />
          <Field
            label="Time zone, as the IANA names it"
            mono
            value={zone}
            onChange={(text) => setZone(text.trim())}
            onSubmit={send}
            error={isZone(zone) ? fault('timeZone') : 'A zone such as America/Vancouver'}
          />
        </Section>
        <Section title="How it dials">
          <Field
            label="Outside code, dialled before outside numbers; may be empty"
            mono
            keyboard="phone-pad"
            value={outside}
            onChange={(text) => setOutside(text.replace(/[^0-9*#]/g, ''))}
            onSubmit={send}
            error={fault('outsideCode')}
          />
          <Field
            label="Area codes dialled as local, with commas between them"
            mono
            keyboard="phone-pad"
            value={areas}
            onChange={setAreas}
            onSubmit={send}
            error={fault('areaCodes')}
          />
          <Field
            label={fieldLabel('dialling', 'extensionDigits')}
            mono
            keyboard="decimal-pad"
            value={digits}
            onChange={setDigits}
            onSubmit={send}
            error={whole(digits) === null ? 'A number such as 4' : fault('extensionDigits')}
          />
        </Section>
        <Section title="Its first trunk">
          <Field
            label="Name of the trunk"
            value={trunk}
            onChange={setTrunk}
            onSubmit={send}
            error={fault('trunk.name')}
          />
          <Field
            label="Calls at once over it"
            mono
            keyboard="decimal-pad"
            value={channels}
            onChange={setChannels}
            onSubmit={send}
            error={whole(channels) === null ? 'A number such as 10' : fault('trunk.channels')}
          />
        </Section>
        <Section title="Office hours, Monday to Friday">
          <ClockSpan from={opens} to={closes} onFrom={setOpens} onTo={setCloses} onSubmit={send} />
          <Words size="small" tone="soft">
            With it come two permissions, four statuses (At work, Away, On leave, Left), and two promises that
            are proved for everybody.
          </Words>
        </Section>
      </View>
    </PageFrame>
  );
}
