import { useState } from 'react';
import { View } from 'react-native';
import { endpointTimes, isNumberKind, type Endpoint } from '../../core/estate';
import { saysOwnPlace } from '../../core/emergency';
import { SaidPlacePart } from '../safety/SaidPlacePart';
import { AppWayPart } from '../networks/PhoneWayPart';
import { Field, Fold } from '../kit/parts';
import { Ask } from '../kit/Term';
import { space } from '../kit/theme';
import { TimeField } from '../kit/TimeField';
import { Toggle } from '../kit/Toggle';
import { Words } from '../kit/Words';
import { fieldLabel } from '../kit/fieldLabel';

const DIGITS = /^[0-9*#A-Da-d,pw]*$/;

/** What a phone is by itself, whichever rule rings it: its name, its carrier's times, and how it wakes. */
export function PhoneSettings({
  endpoint,
  onChange,
}: {
  readonly endpoint: Endpoint;
  readonly onChange: (patch: Partial<Endpoint>, merge: string) => void;
}) {
  const times = endpointTimes(endpoint);
  const isNumber = isNumberKind(endpoint.kind);
  const isApp = endpoint.kind === 'mobile-app';
  const isSoftphone = isApp || endpoint.kind === 'desktop-app';
  const [label, setLabel] = useState(endpoint.label);
  const [keys, setKeys] = useState(endpoint.afterAnswer ?? '');
  const named = label.trim();
  return (
    <Fold title="The phone itself">
      <View style={{ gap: space(4), paddingTop: space(2) }}>
        <Field
          label="Name of the phone"
          value={label}
          onChange={(text) => {
            setLabel(text);
            if (text.trim() !== '' && text.trim().length <= 120) onChange({ label: text.trim() }, 'label');
          }}
          error={
            named === ''
              ? 'Give it a name, such as Mobile'
              : named.length > 120
                ? 'At most 120 letters'
                : null
          }
        />
        <TimeField
          label={fieldLabel('person', 'endpoints.setupMs')}
          value={times.setupMs}
          step={100}
          onChange={(ms) => onChange({ setupMs: ms ?? undefined }, 'setup')}
          hint="From dialling until it rings"
        />
        {isNumber ? (
          <>
            <TimeField
              label="Its voicemail answers after ringing for"
              term="carrier-voicemail"
              value={times.mailboxAfterMs}
              canBeNone
              onChange={(ms) => onChange({ mailboxAfterMs: ms }, 'mailbox')}
              hint={
                times.mailboxAfterMs === null
                  ? 'Leave it empty where there is none'
                  : `From ${((times.setupMs + times.mailboxAfterMs) / 1000).toFixed(1)} s after dialling the carrier takes the call: stop ringing it before that`
              }
            />
            <TimeField
              label="Switched off, its voicemail answers after"
              value={times.offAnswerMs}
              step={100}
              onChange={(ms) => onChange({ offAnswerMs: ms ?? undefined }, 'off-answer')}
              hint="From dialling; the answer guard must be longer"
            />
          </>
        ) : null}
        {endpoint.number !== undefined ? (
          <View style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}>
            <View style={{ flex: 1 }}>
              <Words strong>Calls from it count as theirs</Words>
              <Words size="small" tone="soft">
                A call from this number arrives as one from their extension: rules for calls from inside
                count.
              </Words>
            </View>
            <Toggle
              value={endpoint.knownAs === true}
              label="Calls from this number count as theirs"
              onChange={(on) => onChange({ knownAs: on ? true : undefined }, 'known-as')}
            />
          </View>
        ) : null}
        {isApp ? (
          <View style={{ gap: space(3) }}>
            <View style={{ flexDirection: 'row', alignItems: 'center' }}>
              <Words strong style={{ flexShrink: 1 }}>
                Woken for a call
              </Words>
              <Ask term="wake" />
              <View style={{ marginLeft: 'auto' }}>
                <Toggle
                  value={times.wakes}
                  label="Woken for a call by push"
                  onChange={(on) => onChange({ wakes: on ? undefined : false }, 'wakes')}
                />
              </View>
            </View>
            {times.wakes ? (
              <TimeField
                label={fieldLabel('person', 'endpoints.wakeMs')}
                value={times.wakeMs}
                step={100}
                onChange={(ms) => onChange({ wakeMs: ms ?? undefined }, 'wake')}
              />
            ) : (
              <Words size="small" tone="soft">
                While the app sleeps it does not ring.
              </Words>
            )}
          </View>
        ) : null}
        {isSoftphone ? (
          <AppWayPart endpoint={endpoint} onChange={(path) => onChange({ path }, 'path')} />
        ) : null}
        {saysOwnPlace(endpoint) ? (
          <SaidPlacePart endpoint={endpoint} onChange={(place) => onChange({ place }, 'place')} />
        ) : null}
        <Field
          label="Digits sent after the answer"
          mono
          keyboard="phone-pad"
          value={keys}
          onChange={(text) => {
            setKeys(text);
            if (DIGITS.test(text) && text.length <= 64)
              onChange({ afterAnswer: text || undefined }, 'after-answer');
          }}
          error={
            DIGITS.test(keys) && keys.length <= 64
              ? null
              : 'Digits, *, #, A to D, and p, w or , for a pause; at most 64'
          }
          hint="For a number that asks for an extension, such as ,,204"
        />
      </View>
    </Fold>
  );
}
