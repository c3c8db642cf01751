import type { NamedPerson } from '../../api/people';
import { ScrollView, View } from 'react-native';
import { useRouter } from 'expo-router';
import { DateTime } from 'luxon';
import { showNumbersIn } from '../../core/calls/dialling';
import { messageOf } from '../data/api';
import { useToday } from '../data/data';
import { space, useIsWide, usePalette } from '../kit/theme';
import { Button, LinkRow, LinkRows, ReachMark, Section, Skeleton, Trouble } from '../kit/parts';
import { LostPhonesPart } from '../phones/LostPhonesPart';
import { FirstHints } from './FirstHints';
import { AlertsPart } from './AlertsPart';
import { CallsPart } from './CallsPart';
import { RequestsPart } from './RequestsPart';
import { ProofsPart } from '../people/ProofsPart';
import { TodayFindings, TodayWork } from './TodayWork';
import { usePageTitle } from '../kit/usePageTitle';
import { Words } from '../kit/Words';
import { RecordRow } from '../changes/RecordRow';
import type { ReachState } from '../../core/calls/views';
import { zoneNamed } from '../../core/zones';

export function TodayScreen() {
  usePageTitle('Today');
  const palette = usePalette();
  const wide = useIsWide();
  const router = useRouter();
  const today = useToday();
  if (today.isError) return <Trouble message={messageOf(today.error)} retry={() => void today.refetch()} />;
  if (today.isPending) return <Skeleton />;
  const { counts, lost, atRisk, forwarded, record, organisation, timeZone, people } = today.data;
  const clock = DateTime.now().setZone(zoneNamed(timeZone)).setLocale('en').toFormat('cccc d LLLL, HH:mm');
  const list = (title: string, state: ReachState, who: readonly NamedPerson[]) =>
    who.length === 0 ? null : (
      <View>
        <Section
          title={title}
          aside={<Words tone="soft">{counts[state]}</Words>}
          style={{ paddingBottom: space(2) }}
        >
          {null}
        </Section>
        <View style={{ borderTopWidth: 1, borderColor: palette.line }}>
          {who.map((person) => (
            <LinkRow
              key={person.id}
              title={person.name}
              text={showNumbersIn(person.why)}
              mark={<ReachMark state={state} />}
              href={`/people/${encodeURIComponent(person.id)}`}
            />
          ))}
        </View>
        {counts[state] > who.length ? (
          <View style={{ padding: space(4) }}>
            <Words tone="soft">{`and ${counts[state] - who.length} more: filter People by how they are reached`}</Words>
          </View>
        ) : null}
      </View>
    );
  return (
    <ScrollView style={{ flex: 1 }} contentContainerStyle={{ paddingBottom: space(8) }}>
      <View style={{ padding: space(4), flexDirection: 'row', alignItems: 'flex-start' }}>
        <View style={{ flex: 1 }}>
          <Words size="page" strong heading={1}>
            Today
          </Words>
          <Words tone="soft">{`${organisation} · ${clock}`}</Words>
        </View>
        {wide ? null : <Button kind="quiet" label="Account" onPress={() => router.navigate('/account')} />}
      </View>
      {people > 0 ? <FirstHints /> : null}
      {people === 0 ? (
        <Section>
          <LinkRows>
            <LinkRow
              title="Begin"
              text="Name, dial plan, first trunk and first people, to the first call that is proved"
              href="/begin"
            />
          </LinkRows>
        </Section>
      ) : null}
      <View
        style={{
          flexDirection: 'row',
          borderTopWidth: 1,
          borderBottomWidth: 1,
          borderColor: palette.line,
          backgroundColor: palette.sheet,
        }}
      >
        {(['reached', 'at-risk', 'lost'] as const).map((state, i) => (
          <View
            key={state}
            style={{
              flex: 1,
              padding: space(3),
              gap: space(1),
              borderLeftWidth: i > 0 ? 1 : 0,
              borderColor: palette.line,
            }}
          >
            <Words mono size="page">
              {counts[state]}
            </Words>
            <ReachMark state={state} />
          </View>
        ))}
      </View>
      <View style={{ paddingHorizontal: space(4), paddingVertical: space(2) }}>
        <Words
          size="small"
          tone="soft"
        >{`Of ${people} people, for a call from outside at this half hour, with nobody answering, mobiles off or busy, and each answered quickly.`}</Words>
      </View>
      <View style={{ flexDirection: wide ? 'row' : 'column', alignItems: 'flex-start' }}>
        <View style={{ flex: 3, width: '100%' }}>
          <AlertsPart />
          <TodayWork />
          <LostPhonesPart />
          <RequestsPart />
          <CallsPart />
          {list('Calls are lost', 'lost', lost)}
          {list('At risk', 'at-risk', atRisk)}
        </View>
        <View style={{ flex: 2, width: '100%' }}>
          {forwarded.length > 0 ? (
            <View>
              <Section title="Call forwarding is on" style={{ paddingBottom: space(2) }}>
                {null}
              </Section>
              <View style={{ borderTopWidth: 1, borderColor: palette.line }}>
                {forwarded.map((person) => (
                  <LinkRow
                    key={person.extension}
                    title={person.name}
                    text={`Line ${person.extension}`}
                    href={`/people/${encodeURIComponent(person.id)}`}
                  />
                ))}
              </View>
            </View>
          ) : null}
          <TodayFindings />
          <ProofsPart />
          <Section title="Last in the record">
            {record.length === 0 ? (
              <Words tone="soft">Nothing has been changed yet.</Words>
            ) : (
              <View role="list">
                {record.map((entry) => (
                  <RecordRow key={entry.id} entry={entry} />
                ))}
              </View>
            )}
          </Section>
        </View>
      </View>
    </ScrollView>
  );
}
