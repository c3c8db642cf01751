import type { DeskPhone } from '../../api/provisioning';
import { languageName } from '../../core/devices/provisioning';
import { messageOf } from '../data/api';
import { useDeskPhone } from '../data/desks';
import { PhoneDrawing } from '../drawings/PhoneDrawing';
import { LinkRow, LinkRows, Section, Skeleton, Trouble } from '../kit/parts';
import { Words } from '../kit/Words';
import { sayMessages } from './messages';
import { sayWhen } from './when';

/** Whether the phone has what stands here, in words. */
function hasIt({ state, isBehind, fetchedAt }: DeskPhone, timeZone: string): string {
  switch (state) {
    case null:
      return 'Calls and reach follow whoever signs on; display and keys do not, for this phone is not provisioned from here.';
    case 'fetched':
    case 'restarting':
    case 'registered':
      if (isBehind) return 'The phone has not fetched this yet.';
      return fetchedAt === null
        ? 'The phone has this.'
        : `The phone has this since ${sayWhen(fetchedAt, timeZone)}.`;
    case 'waiting':
    case 'asked':
    case 'refused':
    case 'locked':
    case 'old-firmware':
    case 'loading':
      return 'The phone has not set itself up yet: see its provisioning.';
  }
}

/** What stands on the phone of a shared desk: display, language and keys of whoever is signed on, or of nobody. */
export function PhonePart({ desk, timeZone }: { readonly desk: string; readonly timeZone: string }) {
  const phone = useDeskPhone(desk);
  if (phone.isError) return <Trouble message={messageOf(phone.error)} retry={() => void phone.refetch()} />;
  if (phone.isPending) return <Skeleton rows={2} />;
  const { model, keyCount, keys, display, label, language, lacksLanguage, restartS, startsUntil, state } =
    phone.data;
  const { messages, isLit } = phone.data;
  return (
    <Section title="On its display and keys now">
      <PhoneDrawing
        name={model}
        display={display.startsWith(label) ? [display] : [display, label]}
        keys={Array.from({ length: keyCount }, (_each, i) => ({
          at: i + 1,
          label: keys.find(({ at }) => at === i + 1)?.label ?? null,
          isWrong: false,
        }))}
        chosen={null}
        onChoose={null}
        lamp={isLit}
      />
      <Words live>{hasIt(phone.data, timeZone)}</Words>
      {messages && messages.fresh + messages.old > 0 ? (
        <Words live>{`${sayMessages(messages)} ${isLit ? 'Its lamp is lit.' : 'Its lamp is off.'}`}</Words>
      ) : null}
      {startsUntil === null ? null : (
        <Words
          tone="ochre"
          live
        >{`It restarts and rings nothing until about ${sayWhen(startsUntil, timeZone)}.`}</Words>
      )}
      <Words size="small" tone="soft">
        {[
          language === null ? '' : `It shows ${languageName(language)}.`,
          lacksLanguage === null
            ? ''
            : `A ${model} does not speak ${languageName(lacksLanguage)}, so it stays in its own language.`,
          restartS === null
            ? `A ${model} takes up whoever signs on without a restart.`
            : `A ${model} restarts at each sign-on, about ${restartS} s, and rings nothing meanwhile.`,
        ]
          .filter(Boolean)
          .join(' ')}
      </Words>
      {state === null ? (
        <LinkRows>
          <LinkRow
            title="Provisioning"
            text="Put the phone on the list there, with its MAC address and the desk’s name"
            href="/provisioning"
          />
        </LinkRows>
      ) : null}
    </Section>
  );
}
