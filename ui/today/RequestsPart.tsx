import { useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import { DateTime } from 'luxon';
import { showNumbersIn } from '../../core/calls/dialling';
import { useAnswerRequest, useRequests } from '../data/own';
import { useCanEdit } from '../data/session';
import { space, usePalette } from '../kit/theme';
import { Button, Field, Refused, Section } from '../kit/parts';
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
              <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
                <Button
                  label="Do it"
                  busy={answer.isPending}
                  onPress={() => answer.mutate({ id: each.id, grant: true, answer: '' })}
                />
                <Button label="Decline" onPress={() => setDeclining({ id: each.id, why: '' })} />
              </View>
            )
          ) : null}
        </View>
      ))}
      <Refused error={answer.error} />
    </Section>
  );
}
