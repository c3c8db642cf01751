import { useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import { DateTime } from 'luxon';
import { showNumbersIn } from '../../core/calls/dialling';
import { useAnswerRequest, useRequests } from '../data/own';
import { useCanEdit } from '../data/session';
import { space, usePalette } from '../kit/theme';
import { Button, Field, Refused, Section } from '../kit/parts';
import { useAsked, useEffectOfAct } from '../data/effect';
import { AskWorse, EffectNote } from '../edit/EffectNote';
import { Words } from '../kit/Words';

/** What people ask for that goes beyond what they may do themselves. */
export function RequestsPart() {
  const palette = usePalette();
  const router = useRouter();
  const canEdit = useCanEdit();
  const requests = useRequests();
  const answer = useAnswerRequest();
  const [declining, setDeclining] = useState<{ readonly id: number; readonly why: string } | null>(null);
  const open = requests.data?.requests ?? [];
  if (open.length === 0) return null;
  return (
    <Section title="People ask for" aside={<Words tone="soft">{open.length}</Words>}>
      {open.map((each) => (
        <View
          key={each.id}
          style={{ gap: space(1), paddingBottom: space(2), borderBottomWidth: 1, borderColor: palette.line }}
        >
          <View style={{ flexDirection: 'row', alignItems: 'center', flexWrap: 'wrap', gap: space(2) }}>
            <Button
              kind="quiet"
              label={each.name}
              onPress={() => router.navigate(`/people/${encodeURIComponent(each.person)}`)}
            />
            <Words size="small" tone="soft">
              {DateTime.fromISO(each.madeAt).setLocale('en').toFormat('ccc d LLL, HH:mm')}
            </Words>
          </View>
          <Words>{`Wants ${showNumbersIn(each.says)}.`}</Words>
          {each.note ? <Words tone="soft">{`“${each.note}”`}</Words> : null}
          {canEdit ? (
            declining?.id === each.id ? (
              <View style={{ gap: space(2) }}>
                <Field
                  label="Why not; the person reads it"
                  value={declining.why}
                  onChange={(why) => setDeclining({ id: each.id, why })}
                  autoFocus
                />
                <View style={{ flexDirection: 'row', gap: space(2) }}>
                  <Button
                    kind="main"
                    label="Decline it"
                    disabled={declining.why.trim() === ''}
                    busy={answer.isPending}
                    onPress={() =>
                      answer.mutate(
                        { id: each.id, grant: false, answer: declining.why },
                        { onSuccess: () => setDeclining(null) },
                      )
                    }
                  />
                  <Button label="Leave it" onPress={() => setDeclining(null)} />
                </View>
              </View>
            ) : (
              <GrantPart
                id={each.id}
                busy={answer.isPending}
                onGrant={() => answer.mutate({ id: each.id, grant: true, answer: '' })}
                onDecline={() => setDeclining({ id: each.id, why: '' })}
              />
            )
          ) : null}
        </View>
      ))}
      <Refused error={answer.error} />
    </Section>
  );
}

const NOTHING_MORE = {};

/** What granting a request does, and the two answers to it. */
function GrantPart({
  id,
  busy,
  onGrant,
  onDecline,
}: {
  readonly id: number;
  readonly busy: boolean;
  readonly onGrant: () => void;
  readonly onDecline: () => void;
}) {
  const effect = useEffectOfAct(`/api/own/requests/${id}/effect`, NOTHING_MORE);
  const asked = useAsked(effect, onGrant);
  return (
    <View style={{ gap: space(2) }}>
      <EffectNote effect={effect} />
      {asked.asks ? (
        <AskWorse effect={effect} label="Do it all the same" onSure={asked.sure} onBack={asked.back} />
      ) : (
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
          <Button label="Do it" busy={busy || asked.waits} onPress={asked.press} />
          <Button label="Decline" onPress={onDecline} />
        </View>
      )}
    </View>
  );
}
