import type { ObjectPage } from '../../api/objects';
import { useRouter } from 'expo-router';
import { showNumber } from '../../core/calls/dialling';
import {
  ACCESS_PINS,
  DEFAULT_ACCESS,
  type AccessNumber,
  type Dialling,
  type Schedule,
} from '../../core/estate';
import { messageOf } from '../data/api';
import { useObject, useObjects, useObjectWork } from '../data/objects';
import { useDialling } from '../data/routing';
import { useCanEdit } from '../data/session';
import { ObjectBar } from '../edit/ObjectBar';
import { RemovePart } from '../edit/RemovePart';
import { scheduleOf, scheduleOptions, scheduleValue } from '../edit/scheduleChoice';
import { tidy } from '../edit/tidy';
import { typedNumber } from '../edit/typedNumber';
import { WithFindings } from '../findings/WithFindings';
import { fieldLabel } from '../kit/fieldLabel';
import { PageFrame } from '../kit/PageFrame';
import { Choice, Field, Section, Skeleton, Tick, Trouble } from '../kit/parts';
import { Words } from '../kit/Words';
import { CheckedField } from '../networks/CheckedField';
import { ShownChoice } from './ShownChoice';
import { TryAccessPart } from './TryAccessPart';
import { PIN_WORDS } from './words';

/** A number that staff ring from outside to call on from there. */
export function AccessScreen({ id }: { readonly id: string }) {
  const page = useObject<AccessNumber>('access', id);
  const dialling = useDialling();
  const [failed] = [page, dialling].filter(({ isError }) => isError);
  if (failed) return <Trouble message={messageOf(failed.error)} retry={() => void failed.refetch()} />;
  if (!page.data || !dialling.data) return <Skeleton />;
  return <AccessView key={id} page={page.data} dialling={dialling.data.dialling} />;
}

function AccessView({
  page,
  dialling,
}: {
  readonly page: ObjectPage<AccessNumber>;
  readonly dialling: Dialling;
}) {
  const router = useRouter();
  const canEdit = useCanEdit();
  const hours = useObjects<Schedule>('schedule');
  const work = useObjectWork('access', page);
  const access = work.object;
  const full = { ...DEFAULT_ACCESS, ...access };
  const set = (part: Partial<AccessNumber>) => work.edit((before) => tidy({ ...before, ...part }));
  const readOwn = (text: string) => {
    const { e164, error } = typedNumber(text, dialling);
    return e164 === null ? { error: error ?? 'A number of the organisation, in any form' } : { value: e164 };
  };
  return (
    <PageFrame
      title={access.name}
      term="access-number"
      text={`${showNumber(access.number)}: staff ring it from a mobile, type a number, and call it with their work number`}
      back={{ path: '/access', label: 'Back to access numbers' }}
      bar={<ObjectBar work={work} />}
    >
      <WithFindings subject={`access/${page.object.id}`}>
        {canEdit ? (
          <>
            <Section title="What it is">
              <Field
                label={fieldLabel('access', 'name')}
                value={access.name}
                onChange={(name) => name.trim() && set({ name })}
              />
              <CheckedField
                label={fieldLabel('access', 'number')}
                value={access.number}
                show={showNumber}
                read={readOwn}
                onChange={(number) => set({ number })}
              />
              <Choice
                titled
                label="Open"
                value={scheduleValue(access.schedule)}
                options={scheduleOptions(hours.data?.objects ?? [])}
                onChange={(value) => set({ schedule: scheduleOf(value) })}
              />
            </Section>
            <Section title="Who gets in">
              <Tick
                label="Staff are known by the number of their mobile or landline"
                on={full.knows}
                onPress={() => set({ knows: full.knows ? false : undefined })}
              />
              {full.knows ? (
                <Tick
                  label="Only where the carrier has verified the number"
                  on={full.onlyVerified}
                  onPress={() => set({ onlyVerified: full.onlyVerified ? undefined : true })}
                />
              ) : null}
              <Choice
                titled
                label="A PIN is asked"
                value={full.pin}
                options={ACCESS_PINS.map((value) => ({ value, label: PIN_WORDS[value] }))}
                onChange={(pin) => set({ pin: pin === DEFAULT_ACCESS.pin ? undefined : pin })}
              />
              {!full.knows && full.pin === 'never' ? (
                <Words tone="rust" strong>
                  Nobody gets in this way: nobody is known, and nobody is asked.
                </Words>
              ) : null}
              <Tick
                label="Whoever is known and hangs up before the answer is called back"
                on={full.hangUp === 'calls-back'}
                onPress={() => set({ hangUp: full.hangUp === 'calls-back' ? undefined : 'calls-back' })}
              />
            </Section>
            <Section title="What shows">
              <ShownChoice
                label="Whoever is called sees"
                words={['own', 'organisation']}
                own="Their own direct number, or what is set for them"
                value={full.presents}
                dialling={dialling}
                onChange={(presents) =>
                  set({ presents: presents === DEFAULT_ACCESS.presents ? undefined : presents })
                }
              />
            </Section>
            <TryAccessPart id={page.object.id} dialling={dialling} isChanged={work.changed} />
            <Section>
              <RemovePart
                kind="access"
                id={page.object.id}
                name={page.object.name}
                label="Remove this access number"
                onRemoved={() => router.navigate('/access')}
              />
            </Section>
          </>
        ) : null}
      </WithFindings>
    </PageFrame>
  );
}
