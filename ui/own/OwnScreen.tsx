import type { OwnPage } from '../../api/own';
import { useState } from 'react';
import { ScrollView, View } from 'react-native';
import { showNumbersIn } from '../../core/calls/dialling';
import type { Wish } from '../../core/changes/own';
import { messageOf } from '../data/api';
import { mayAsk, useAskFor, useOwnPage, useTakeBackRequest, useWish } from '../data/own';
import { useSession } from '../data/session';
import { space, usePalette } from '../kit/theme';
import { Button, Field, ReachMark, Refused, Section, Sheeted, Skeleton, Trouble } from '../kit/parts';
import { AccountPart } from '../account/AccountPart';
import { Sheet } from '../kit/Sheet';
import { usePageTitle } from '../kit/usePageTitle';
import { Words } from '../kit/Words';
import { RingStrip } from '../drawings/RingStrip';
import { StatusPart } from './StatusPart';
import { OwnCallPart } from './OwnCallPart';
import { OwnColleaguesPart } from './OwnColleaguesPart';
import { OwnDeskPart } from './OwnDeskPart';
import { OwnPlacePart } from './OwnPlacePart';
import { OwnSeatsPart } from './OwnSeatsPart';
import { PhonesPart } from './PhonesPart';
import { SequencePart } from './SequencePart';
import { AppsPart } from './AppsPart';
import { LinePart } from './LinePart';
import { MessagesPart } from './MessagesPart';
import { OwnHandoverPart } from './OwnHandoverPart';
import { PinPart } from './PinPart';
import { OwnCoverPart } from './OwnCoverPart';
import { TryMine } from './TryMine';
import type { Do } from './shared';

const KEPT = 4;

/** Tells what cannot be done alone, and asks for it. */
function AskSheet({ wish, why, onClose }: { wish: Wish; why: string; onClose: () => void }) {
  const ask = useAskFor();
  const [note, setNote] = useState('');
  return (
    <Sheet
      title="Ask for it"
      open
      onClose={onClose}
      action={{
        label: 'Send the request',
        busy: ask.isPending,
        onPress: () => ask.mutate({ wish, note }, { onSuccess: onClose }),
      }}
    >
      <Words>{`${why} Your mobility specialist can do it for you.`}</Words>
      <Field label="Why, if it helps" value={note} onChange={setNote} multiline />
      <Refused error={ask.error} />
    </Sheet>
  );
}

const STATE_WORDS = {
  open: 'not answered yet',
  granted: 'done for you',
  declined: 'declined',
  'taken-back': 'withdrawn',
} as const;

function RequestsPart({ page }: { page: OwnPage }) {
  const palette = usePalette();
  const takeBack = useTakeBackRequest();
  if (page.requests.length === 0) return null;
  return (
    <Section title="What you asked for">
      {page.requests.slice(0, KEPT).map((each) => (
        <View
          key={each.id}
          style={{ gap: 2, paddingBottom: space(2), borderBottomWidth: 1, borderColor: palette.line }}
        >
          <Words>{showNumbersIn(each.says)}</Words>
          <Words size="small" tone={each.state === 'declined' ? 'rust' : 'soft'}>
            {`${STATE_WORDS[each.state]}${each.answer ? `: ${each.answer}` : ''}`}
          </Words>
          {each.state === 'open' ? (
            <View style={{ flexDirection: 'row' }}>
              <Button kind="quiet" label="Withdraw request" onPress={() => takeBack.mutate(each.id)} />
            </View>
          ) : null}
        </View>
      ))}
    </Section>
  );
}

/** The page that people have of their own, on their mobile. */
export function OwnScreen() {
  const own = useOwnPage();
  const palette = usePalette();
  const { signOut } = useSession();
  const wish = useWish();
  const [accountOpen, setAccountOpen] = useState(false);
  const [asking, setAsking] = useState<{ readonly wish: Wish; readonly why: string } | null>(null);
  usePageTitle('Your reach');
  const act: Do = (wanted) =>
    wish.mutate(wanted, {
      onError: (error) => {
        if (mayAsk(error)) setAsking({ wish: wanted, why: messageOf(error) });
      },
    });
  if (own.isError) return <Trouble message={messageOf(own.error)} retry={() => void own.refetch()} />;
  if (own.isPending) return <Skeleton />;
  const page = own.data;
  return (
    <View style={{ flex: 1, backgroundColor: palette.ground }}>
      <ScrollView
        role="main"
        style={{ flex: 1, backgroundColor: palette.ground }}
        contentContainerStyle={{ paddingBottom: space(8), maxWidth: 640, width: '100%', alignSelf: 'center' }}
      >
        <View style={{ padding: space(4), flexDirection: 'row', alignItems: 'flex-start', gap: space(3) }}>
          <View style={{ flex: 1 }}>
            <Words size="page" strong heading={1}>
              {page.person.name}
            </Words>
            <Words tone="soft">{`${page.organisation}${page.person.extension ? ` · ${page.person.extension}` : ''}`}</Words>
          </View>
          <Button kind="quiet" label="Account" onPress={() => setAccountOpen(true)} />
          <Button kind="quiet" label="Sign out" onPress={() => void signOut()} />
        </View>
        <Sheet title="Your account" open={accountOpen} onClose={() => setAccountOpen(false)}>
          {accountOpen ? <AccountPart /> : null}
        </Sheet>
        <View style={{ paddingHorizontal: space(4), paddingBottom: space(3), gap: space(1) }}>
          <ReachMark state={page.reach.state} />
          <Words>
            {page.strip ? `Nobody answers now: ${showNumbersIn(page.strip.ending)}` : 'You have no line.'}
          </Words>
        </View>
        {page.strip ? (
          <Sheeted style={{ paddingVertical: space(2) }}>
            <RingStrip strip={page.strip} bare />
          </Sheeted>
        ) : null}
        <StatusPart page={page} act={act} />
        <MessagesPart messages={page.messages} />
        <OwnCallPart />
        <OwnDeskPart timeZone={page.timeZone} />
        <OwnColleaguesPart timeZone={page.timeZone} />
        <PhonesPart page={page} act={act} />
        <OwnSeatsPart timeZone={page.timeZone} />
        <OwnHandoverPart page={page} />
        <AppsPart page={page} />
        <LinePart />
        <OwnPlacePart />
        <OwnCoverPart page={page} act={act} />
        <SequencePart page={page} act={act} />
        <TryMine page={page} />
        <PinPart page={page} />
        <RequestsPart page={page} />
        {asking ? <AskSheet {...asking} onClose={() => setAsking(null)} /> : null}
      </ScrollView>
      {wish.isError && !mayAsk(wish.error) ? (
        // In view wherever on the page it was asked for.
        <View
          role="alert"
          style={{
            flexDirection: 'row',
            alignItems: 'center',
            gap: space(2),
            padding: space(3),
            paddingLeft: space(4),
            borderTopWidth: 2,
            borderColor: palette.rust,
            backgroundColor: palette.sheet,
          }}
        >
          <Words tone="rust" strong style={{ flex: 1 }}>
            {messageOf(wish.error)}
          </Words>
          <Button kind="quiet" label="Put away" onPress={() => wish.reset()} />
        </View>
      ) : null}
    </View>
  );
}
