import type { OwnDesks, OwnFreeDesk as Free } from '../../api/desks';
import { useState } from 'react';
import { View } from 'react-native';
import { faultOf } from '../data/api';
import { mayConfirm, useOwnDesks, useOwnSignOff, useOwnSignOn } from '../data/desks';
import { ShapeChoice, type DeskShape } from '../desks/ShapeChoice';
import { sayWhen } from '../desks/when';
import { deskPlan } from '../../core/desks';
import { DeskPlan } from '../drawings/DeskPlan';
import { Button, Field, LinkRow, LinkRows, Refused, Section } from '../kit/parts';
import { SearchField } from '../kit/SearchField';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';

/** More desks than these are searched through. */
const MOST_ROWS = 20;

/** Where one sits; a free desk is chosen and signed on at, or one's own left. */
export function OwnDeskPart({ timeZone }: { readonly timeZone: string }) {
  const desks = useOwnDesks();
  const off = useOwnSignOff();
  const [choosing, setChoosing] = useState(false);
  if (!desks.data?.hasHotDesk) return null;
  const { now, free, others } = desks.data;
  return (
    <Section title="Your desk today">
      <Words>
        {now
          ? `${now.name}, ${now.siteName}, since ${sayWhen(now.since, timeZone)}${
              now.until ? `. You are signed off at ${sayWhen(now.until, timeZone)}.` : ''
            }`
          : 'You are signed on at no shared desk.'}
      </Words>
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: 8 }}>
        <Button
          label={now ? 'Change the desk' : 'Choose a desk'}
          disabled={free.length === 0}
          onPress={() => setChoosing(true)}
        />
        {now ? <Button label="Sign off" busy={off.isPending} onPress={() => off.mutate()} /> : null}
      </View>
      {free.length === 0 && !now ? <Words tone="soft">No desk is free for you.</Words> : null}
      <Refused error={off.error} />
      {choosing ? <ChooseSheet free={free} others={others} onClose={() => setChoosing(false)} /> : null}
    </Section>
  );
}

/** The plan of a site on which a desk is chosen: those that are for oneself can be pressed. */
function ChoosePlan({
  free,
  others,
  onChoose,
}: {
  readonly free: readonly Free[];
  readonly others: OwnDesks['others'];
  readonly onChoose: (desk: Free) => void;
}) {
  const mine = new Map(free.map((desk) => [desk.id, desk]));
  const inOrder = [...free, ...others].sort((a, b) => a.nth - b.nth);
  const sites = [...new Set(inOrder.map(({ siteName }) => siteName))];
  return (
    <View style={{ gap: 12 }}>
      {sites.map((site) => (
        <View key={site} style={{ gap: 8 }}>
          <Words strong>{site}</Words>
          {deskPlan(inOrder.filter(({ siteName }) => siteName === site)).map((room) => (
            <View key={room.area ?? ''} style={{ gap: 4 }}>
              <Words size="small" tone="soft">
                {room.area ?? 'Area not said'}
              </Words>
              <DeskPlan
                room={room}
                stateOf={(desk) => {
                  const own = mine.get(desk.id);
                  const isHere = 'isMine' in desk && desk.isMine;
                  const mark = isHere ? 'you' : own ? (own.takenBy ? 'taken' : 'free') : '';
                  return {
                    fill: isHere ? 'chosen' : own && !own.takenBy ? 'free' : 'taken',
                    mark,
                    label: `${desk.name}, ${isHere ? 'where you sit' : own ? (own.takenBy ? `${own.takenBy} sits there` : 'free') : 'not free for you'}`,
                    onPress: own ? () => onChoose(own) : null,
                  };
                }}
              />
            </View>
          ))}
        </View>
      ))}
    </View>
  );
}

function ChooseSheet({
  free,
  others,
  onClose,
}: {
  readonly free: readonly Free[];
  readonly others: OwnDesks['others'];
  readonly onClose: () => void;
}) {
  const on = useOwnSignOn();
  const [query, setQuery] = useState('');
  const [shape, setShape] = useState<DeskShape>('list');
  const [chosen, setChosen] = useState<Free | null>(null);
  const [pin, setPin] = useState('');
  const [code, setCode] = useState('');
  // Those that nobody has to leave for it come first.
  const inOrder = [...free].sort((a, b) => Number(a.takenBy !== null) - Number(b.takenBy !== null));
  const found = inOrder.filter(({ name, siteName, area }) =>
    [name, siteName, area ?? ''].some((each) => each.toLowerCase().includes(query.trim().toLowerCase())),
  );
  const signOn = (desk: Free, confirmed: boolean) =>
    on.mutate(
      {
        desk: desk.id,
        ...(desk.asks === 'nothing' ? {} : { pin }),
        ...(desk.asks === 'code-and-pin' ? { code } : {}),
        ...(confirmed ? { confirmed } : {}),
      },
      { onSuccess: onClose },
    );
  const needsPin = chosen !== null && chosen.asks !== 'nothing';
  const needsCode = chosen?.asks === 'code-and-pin';
  return (
    <Sheet
      title={chosen ? `Sign on at ${chosen.name}` : 'Choose a desk'}
      open
      onClose={onClose}
      {...(chosen
        ? {
            action: {
              label: mayConfirm(on.error) ? 'Sign them off and go on' : 'Sign on here',
              busy: on.isPending,
              disabled: (needsPin && pin === '') || (needsCode && code === ''),
              onPress: () => signOn(chosen, mayConfirm(on.error)),
            },
          }
        : {})}
    >
      {chosen ? (
        <>
          <Words tone="soft">{[chosen.siteName, chosen.area].filter(Boolean).join(', ')}</Words>
          {needsCode ? (
            <Field
              label="The code shown at the desk"
              mono
              keyboard="phone-pad"
              value={code}
              onChange={(text) => setCode(text.replace(/\D/g, ''))}
            />
          ) : null}
          {needsPin ? (
            <Field
              label="Your PIN"
              secret
              keyboard="phone-pad"
              value={pin}
              onChange={(text) => {
                setPin(text.replace(/\D/g, ''));
                on.reset();
              }}
              error={faultOf(on.error, 'pin')}
            />
          ) : null}
          <Refused error={on.error} />
          <View style={{ flexDirection: 'row' }}>
            <Button
              kind="quiet"
              label="Choose another desk"
              onPress={() => {
                setChosen(null);
                on.reset();
              }}
            />
          </View>
        </>
      ) : (
        <>
          <ShapeChoice value={shape} onChange={setShape} />
          {shape === 'plan' ? (
            <ChoosePlan free={free} others={others} onChoose={setChosen} />
          ) : (
            <>
              {free.length > MOST_ROWS || query !== '' ? (
                <SearchField
                  label="Search desks"
                  placeholder="Desk, site or area"
                  value={query}
                  onChange={setQuery}
                />
              ) : null}
              <LinkRows>
                {found.slice(0, MOST_ROWS).map((desk) => (
                  <LinkRow
                    key={desk.id}
                    title={desk.name}
                    text={`${[desk.siteName, desk.area].filter(Boolean).join(', ')}${desk.takenBy ? `: ${desk.takenBy} sits there` : ''}`}
                    onPress={() => setChosen(desk)}
                  />
                ))}
              </LinkRows>
            </>
          )}
        </>
      )}
    </Sheet>
  );
}
