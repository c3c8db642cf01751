import { useState } from 'react';
import { View } from 'react-native';
import { readNumber, showNumber } from '../../core/calls/dialling';
import { capital, type Ending, type Estate, type Person, type SimpleEnding } from '../../core/estate';
import { endingPhrase, outcomeText, runCall, shortName, type EstateIndex } from '../../core/calls/engine';
import { isoIn } from '../../core/calls/time';
import { meetObject, meetPerson } from '../data/met';
import { space } from '../kit/theme';
import { Button, Choice, Field } from '../kit/parts';
import { AgreedSwitch } from './AgreedSwitch';
import { ReadBack } from './ReadBack';
import { TimeField } from '../kit/TimeField';
import { Words } from '../kit/Words';
import { PhoneOrPlan } from './PhoneOrPlan';
import { typedSip } from '../edit/typedSip';
import { FoundList, PersonSearch, useNamed, type Found } from '../edit/Search';
import { fieldLabel } from '../kit/fieldLabel';

interface Props {
  readonly label: string;
  /** Null: none is chosen yet. */
  readonly ending: Ending | null;
  readonly estate: Estate;
  readonly index: EstateIndex;
  /** Whose plan it is; null for a group or menu, where a mailbox names its person. */
  readonly owner: Person | null;
  /** The group or menu whose permission an outside number needs, where nobody owns the ending. */
  readonly holder?: { readonly name: string; readonly permission: string };
  readonly canQueue: boolean;
  readonly onChange: (ending: Ending) => void;
  /** Told when a kind of place is chosen whose place itself is still to be chosen: until then none is. */
  readonly onUnset?: () => void;
  /** Gives its owner or holder another permission, where that can be done from here. */
  readonly onPermission?: (permission: string) => void;
}

type Kind = 'own' | 'colleague' | 'group' | 'menu' | 'number' | 'sip' | 'hang-up';

const kindOf = (ending: SimpleEnding, owner: Person | null): Kind => {
  switch (ending.kind) {
    case 'mailbox':
      return owner && (ending.person === undefined || ending.person === owner.id) ? 'own' : 'colleague';
    case 'person':
      return 'colleague';
    case 'endpoint':
      return owner?.endpoints.some(({ id }) => id === ending.endpoint) ? 'number' : 'colleague';
    case 'group':
    case 'menu':
    case 'number':
    case 'sip':
    case 'hang-up':
      return ending.kind;
  }
};

/** Where a call goes when nobody has answered: chosen by search, said back in words. */
export function EndingEditor({
  label,
  ending,
  estate,
  index,
  owner,
  holder,
  canQueue,
  onChange,
  onUnset,
  onPermission,
}: Props) {
  const inner: SimpleEnding | null = ending?.kind === 'queue' ? ending.then : ending;
  const [kind, setKind] = useState<Kind | null>(inner && kindOf(inner, owner));
  const set = (then: SimpleEnding) => onChange(ending?.kind === 'queue' ? { ...ending, then } : then);
  return (
    <View style={{ gap: space(3) }}>
      <View style={{ gap: 2 }}>
        <Words size="small" tone="soft">
          {label}
        </Words>
        <Words strong live>
          {ending ? `${capital(endingPhrase(index, ending, owner?.id))}.` : 'Nothing chosen yet.'}
        </Words>
      </View>
      {canQueue && ending && inner ? (
        <Choice
          label="Does the caller wait first?"
          value={ending.kind === 'queue' ? 'queue' : 'at-once'}
          options={[
            { value: 'at-once', label: 'At once' },
            { value: 'queue', label: 'The caller waits first' },
          ]}
          onChange={(how) =>
            onChange(how === 'queue' ? { kind: 'queue', maxMs: 60_000, then: inner } : inner)
          }
        />
      ) : null}
      {ending?.kind === 'queue' ? (
        <TimeField
          label="Waits at most"
          value={ending.maxMs}
          least={1000}
          step={5000}
          onChange={(ms) => ms !== null && onChange({ ...ending, maxMs: ms })}
          hint="The steps go round meanwhile"
        />
      ) : null}
      <Choice
        label={`${label}: where to`}
        value={kind}
        options={[
          ...(owner ? [{ value: 'own' as const, label: 'Own mailbox' }] : []),
          { value: 'colleague', label: owner ? 'A colleague' : 'A person' },
          { value: 'group', label: 'A group' },
          { value: 'menu', label: 'A menu' },
          { value: 'number', label: 'A number' },
          { value: 'sip', label: 'A SIP address' },
          { value: 'hang-up', label: 'End the call' },
        ]}
        onChange={(next) => {
          setKind(next);
          if (next === 'own') set({ kind: 'mailbox' });
          else if (next === 'hang-up') set({ kind: 'hang-up', message: '' });
          else if (next !== kind) onUnset?.();
        }}
      />
      {kind === 'colleague' ? (
        <ColleaguePart owner={owner} estate={estate} index={index} onPick={set} />
      ) : null}
      {owner && inner ? (
        <AgreedPart owner={owner} estate={estate} index={index} ending={inner} onChange={set} />
      ) : null}
      {kind === 'group' || kind === 'menu' ? <NamedPart key={kind} kind={kind} onPick={set} /> : null}
      {kind === 'number' ? (
        <NumberPart
          estate={estate}
          owner={owner}
          holder={owner ?? holder ?? null}
          ending={inner}
          onPick={set}
          onPermission={onPermission ?? null}
        />
      ) : null}
      {kind === 'sip' ? <SipPart ending={inner} onPick={set} /> : null}
      {kind === 'hang-up' ? (
        <Field
          label="What the caller hears before, if anything"
          value={inner?.kind === 'hang-up' ? inner.message : ''}
          onChange={(message) => set({ kind: 'hang-up', message })}
        />
      ) : null}
    </View>
  );
}

/** Whose calls will be sent on by an ending: a colleague, or nobody but the owner. */
function colleagueOf(owner: Person, estate: Estate, index: EstateIndex, ending: SimpleEnding): Person | null {
  const id =
    ending.kind === 'person' || ending.kind === 'mailbox'
      ? ending.person
      : ending.kind === 'endpoint'
        ? estate.people.find((each) => each.endpoints.some((endpoint) => endpoint.id === ending.endpoint))?.id
        : undefined;
  return id === undefined || id === owner.id ? null : (index.people.get(id) ?? null);
}

/** The agreement of the colleague to whom an ending sends calls. */
function AgreedPart({
  owner,
  estate,
  index,
  ending,
  onChange,
}: {
  owner: Person;
  estate: Estate;
  index: EstateIndex;
  ending: SimpleEnding;
  onChange: (ending: SimpleEnding) => void;
}) {
  const colleague = colleagueOf(owner, estate, index, ending);
  if (!colleague || !(ending.kind === 'person' || ending.kind === 'mailbox' || ending.kind === 'endpoint'))
    return null;
  const { agreedOn: before, ...rest } = ending;
  return (
    <AgreedSwitch
      name={colleague.name}
      agreedOn={before}
      onChange={(agreedOn) => onChange(agreedOn === undefined ? rest : { ...rest, agreedOn })}
    />
  );
}

/** A colleague's plan, mailbox or phone: three things that people take for one, so each says what it means. */
function ColleaguePart({
  owner,
  estate,
  index,
  onPick,
}: {
  owner: Person | null;
  estate: Estate;
  index: EstateIndex;
  onPick: (ending: SimpleEnding) => void;
}) {
  const [met, setMet] = useState<Person | null>(null);
  const pick = (id: string) => void meetPerson(id).then((page) => setMet(page.person));
  const whose = met ? `${shortName(met.name)}’s` : '';
  const keeps = owner ? `${shortName(owner.name)}’s` : 'The caller’s';
  const line = met?.lines[0];
  /** Where a call that nobody answers ends now, if it is handed to the colleague's plan. */
  const endsIn = () => {
    if (!met || !line || !index.people.has(met.id)) return '';
    const { outcome } = runCall(index, {
      from: '+0',
      to: line.extension,
      at: isoIn(Date.now(), estate.timeZone),
      arrival: 'forwarded',
    });
    return ` Unanswered now: ${outcomeText(index, outcome)}`;
  };
  const found: Found[] = met
    ? [
        {
          key: 'plan',
          title: `${whose} own plan`,
          text: `${whose} rules decide, and a message may land with ${shortName(met.name)} or whoever covers.${endsIn()}`,
          onPick: () => onPick({ kind: 'person', person: met.id }),
        },
        {
          key: 'mailbox',
          title: `${whose} mailbox`,
          text: `Nothing of ${whose} rings. The message is ${whose}, not ${keeps}.`,
          onPick: () => onPick({ kind: 'mailbox', person: met.id }),
        },
        ...met.endpoints.map((endpoint) => ({
          key: endpoint.id,
          title: `${whose} phone: ${endpoint.label}`,
          text: `Rings this phone for a minute and asks none of ${whose} rules. Nobody answers: the call is lost.`,
          onPick: () => onPick({ kind: 'endpoint', endpoint: endpoint.id }),
        })),
      ]
    : [];
  return (
    <View style={{ gap: space(2) }}>
      <PersonSearch label="Which colleague" {...(owner ? { except: owner.id } : {})} onPick={pick} />
      {met ? (
        <>
          <Words
            size="small"
            tone="ochre"
          >{`Ask ${shortName(met.name)} first: calls will come that are not theirs.`}</Words>
          <FoundList found={found} />
          {owner ? <PhoneOrPlan owner={owner} estate={estate} colleague={met} /> : null}
        </>
      ) : null}
    </View>
  );
}

function NamedPart({ kind, onPick }: { kind: 'group' | 'menu'; onPick: (ending: SimpleEnding) => void }) {
  const named = useNamed(kind);
  return (
    <FoundList
      found={(named.data?.objects ?? []).map(({ id, name, extension }) => ({
        key: id,
        title: name,
        text: extension ?? '',
        onPick: () =>
          void meetObject(kind, id).then(() =>
            onPick(kind === 'group' ? { kind, group: id } : { kind, menu: id }),
          ),
      }))}
    />
  );
}

function NumberPart({
  estate,
  owner,
  holder,
  ending,
  onPick,
  onPermission,
}: {
  estate: Estate;
  owner: Person | null;
  holder: { readonly name: string; readonly permission: string } | null;
  ending: SimpleEnding | null;
  onPick: (ending: SimpleEnding) => void;
  onPermission: ((permission: string) => void) | null;
}) {
  const [text, setText] = useState(ending?.kind === 'number' ? showNumber(ending.number) : '');
  const read = text.trim() === '' ? null : readNumber(text, estate.dialling);
  return (
    <View style={{ gap: space(2) }}>
      <FoundList
        found={(owner?.endpoints ?? []).map((endpoint) => ({
          key: endpoint.id,
          title: `Own ${endpoint.label.charAt(0).toLowerCase()}${endpoint.label.slice(1)}`,
          text: endpoint.number ? showNumber(endpoint.number) : 'rings for a minute, then the call is lost',
          onPick: () => onPick({ kind: 'endpoint', endpoint: endpoint.id }),
        }))}
      />
      <Field
        label="An outside number, in any form"
        keyboard="phone-pad"
        mono
        value={text}
        onChange={setText}
        error={read && !read.ok ? read.reason : null}
      />
      {read?.ok && holder ? (
        <ReadBack e164={read.e164} holder={holder} estate={estate} onPermission={onPermission} />
      ) : null}
      {read?.ok ? (
        <Button
          label={`Send calls to ${showNumber(read.e164)}`}
          onPress={() => onPick({ kind: 'number', number: read.e164 })}
        />
      ) : null}
    </View>
  );
}

function SipPart({
  ending,
  onPick,
}: {
  ending: SimpleEnding | null;
  onPick: (ending: SimpleEnding) => void;
}) {
  const [text, setText] = useState(ending?.kind === 'sip' ? ending.uri : 'sip:');
  const { uri, shown, error } = typedSip(text);
  return (
    <View style={{ gap: space(2) }}>
      <Field
        label={fieldLabel('person', 'plan.otherwise.ending.uri')}
        value={text}
        onChange={(next) => setText(next.trim())}
        error={error}
        hint={shown}
      />
      {uri ? <Button label={`Send calls to ${uri}`} onPress={() => onPick({ kind: 'sip', uri })} /> : null}
    </View>
  );
}
