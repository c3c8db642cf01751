import { useState } from 'react';
import { View } from 'react-native';
import { DESK_TRIES, type DeskPage, type DeskTry } from '../../api/desks';
import { messageOf } from '../data/api';
import { mayConfirm, useDeskPage, usePressAtDesk, useSignOff, useSignOn } from '../data/desks';
import { useRole } from '../data/session';
import { DeskBand } from '../drawings/DeskBand';
import { PersonSearch } from '../edit/Search';
import { Button, Choice, Field, LinkRow, LinkRows, Refused, Section, Skeleton, Trouble } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';
import { sayWhen } from './when';

const MOST_SHOWN = 12;

/** Who is at a desk and was of late; somebody can be signed on and off. */
export function HerePart({ desk }: { readonly desk: string }) {
  const page = useDeskPage(desk);
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (page.isPending) return <Skeleton rows={2} />;
  return <Here page={page.data} />;
}

function Here({ page }: { readonly page: DeskPage }) {
  const role = useRole();
  const maySign = role === 'specialist' || role === 'help-desk';
  const [signing, setSigning] = useState(false);
  const [pressing, setPressing] = useState(false);
  const off = useSignOff();
  const { desk, sittings, timeZone, code } = page;
  const { sitting } = desk;
  const before = sittings.filter(({ ended }) => ended !== null).slice(0, MOST_SHOWN);
  return (
    <>
      <Section title="Who sits here">
        {sitting ? (
          <LinkRows>
            <LinkRow
              title={sitting.name}
              text={`Since ${sayWhen(sitting.since, timeZone)}, signed on ${sitting.how}${
                desk.until ? `; signed off by itself at ${sayWhen(desk.until, timeZone)}` : ''
              }`}
              href={`/people/${encodeURIComponent(sitting.person)}`}
            />
          </LinkRows>
        ) : (
          <Words>Nobody: the desk is free.</Words>
        )}
        {code ? (
          <Words tone="soft">
            Code of today, to be shown at the desk: <Words mono>{code}</Words>
          </Words>
        ) : null}
        {maySign ? (
          <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
            {sitting ? (
              <Button
                label={`Sign ${sitting.name} off`}
                busy={off.isPending}
                onPress={() => off.mutate(desk.id)}
              />
            ) : null}
            <Button
              label={sitting ? 'Sign somebody else on' : 'Sign somebody on'}
              onPress={() => setSigning(true)}
            />
            <Button kind="quiet" label="Try it at the phone" onPress={() => setPressing(true)} />
          </View>
        ) : null}
        <Refused error={off.error} />
      </Section>
      <Section title="The last seven days">
        <DeskBand sittings={sittings} fromMs={page.fromMs} toMs={page.toMs} timeZone={timeZone} />
        {before.length === 0 ? (
          <Words tone="soft">{sitting ? 'Nobody before.' : 'Nobody sat here.'}</Words>
        ) : null}
        {before.map((each, i) => (
          <Words key={i} size="small">
            {`${each.name}, ${sayWhen(each.since, timeZone)} to ${sayWhen(each.ended ?? '', timeZone)}: ${each.why ?? ''}`}
          </Words>
        ))}
      </Section>
      {signing ? <SignOnSheet desk={desk.id} name={desk.name} onClose={() => setSigning(false)} /> : null}
      {pressing ? (
        <PressSheet
          desk={desk.id}
          name={desk.name}
          sitting={sitting?.name ?? null}
          onClose={() => setPressing(false)}
        />
      ) : null}
    </>
  );
}

interface AtDesk {
  readonly desk: string;
  readonly name: string;
  readonly onClose: () => void;
}

/** Signs somebody on; where the desk is taken and may be taken over, it is asked first. */
function SignOnSheet({ desk, name, onClose }: AtDesk) {
  const on = useSignOn();
  const [person, setPerson] = useState<{ readonly id: string; readonly name: string } | null>(null);
  return (
    <Sheet title={`Sign on at ${name}`} open onClose={onClose}>
      <PersonSearch
        label="Who"
        onPick={(id, picked) => {
          setPerson({ id, name: picked });
          on.mutate({ desk, person: id }, { onSuccess: onClose });
        }}
      />
      <Refused error={on.error} />
      {person && mayConfirm(on.error) ? (
        <Button
          kind="main"
          label={`Sign ${person.name} on`}
          busy={on.isPending}
          onPress={() => on.mutate({ desk, person: person.id, confirmed: true }, { onSuccess: onClose })}
        />
      ) : null}
    </Sheet>
  );
}

const TRIES: Readonly<
  Record<DeskTry, { readonly label: string; readonly does: string; readonly says: string }>
> = {
  'sign-on': {
    label: 'Sign on or off',
    does: 'Dial the code to sign on',
    says: 'The simulated phone dials the code over SIP and types what stands here, each followed by the hash key.',
  },
  messages: {
    label: 'Hear the messages',
    does: 'Dial the code of the mailbox',
    says: 'The simulated phone dials the code that plays the messages of whoever sits there.',
  },
  'leave-message': {
    label: 'Leave a message',
    does: 'Call from outside',
    says: 'A simulated caller from outside calls whoever sits there, waits while it rings, and speaks to whoever or whatever answers: up to a minute.',
  },
};

/** Tries what the phone of a desk does: codes dialled there, and a message that is left for whoever sits there. */
function PressSheet({ desk, name, sitting, onClose }: AtDesk & { readonly sitting: string | null }) {
  const press = usePressAtDesk();
  const [tries, setTries] = useState<DeskTry>('sign-on');
  const [text, setText] = useState('');
  const typed = text.split(/[\s#]+/).filter(Boolean);
  return (
    <Sheet
      title={`Try it at the phone of ${name}`}
      open
      onClose={onClose}
      action={{
        label: TRIES[tries].does,
        busy: press.isPending,
        disabled: typed.some((each) => !/^\d{1,20}$/.test(each)) || typed.length > 6,
        onPress: () => press.mutate({ desk, tries, typed: tries === 'sign-on' ? typed : [] }),
      }}
    >
      <Choice
        label="What is tried"
        value={tries}
        options={DESK_TRIES.filter((each) => each === 'sign-on' || sitting !== null).map((each) => ({
          value: each,
          label: TRIES[each].label,
        }))}
        onChange={(each) => {
          press.reset();
          setTries(each);
        }}
      />
      <Words tone="soft">{TRIES[tries].says}</Words>
      {tries === 'sign-on' ? (
        <Field
          label="What is typed there, such as an extension and a PIN"
          mono
          keyboard="phone-pad"
          value={text}
          onChange={setText}
          hint="Parted by spaces; leave it empty to hear what is asked first"
        />
      ) : null}
      {press.data?.heard.length === 0 ? <Words live>Nothing was heard: it was not answered.</Words> : null}
      {press.data?.heard.map((each, i) => (
        <Words key={i} live>
          {`Heard: “${each}”`}
        </Words>
      ))}
      <Refused error={press.error} />
    </Sheet>
  );
}
