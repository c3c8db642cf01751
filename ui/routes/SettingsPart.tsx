import { useState } from 'react';
import { View } from 'react-native';
import { useQuery } from '@tanstack/react-query';
import { showNumber } from '../../core/calls/dialling';
import { emptyEstate } from '../../core/editing';
import { settingsOf, type MoveTimes, type Settings } from '../../core/estate';
import { api, faultOf, messageOf } from '../data/api';
import { useDialling } from '../data/routing';
import { useCanEdit } from '../data/session';
import { typedNumber } from '../edit/typedNumber';
import { Button, Field, Section, Skeleton, Trouble } from '../kit/parts';
import { SETTINGS_PATH as PATH, SettingsSheetFrame, useSaveSettings } from '../edit/SettingsSheetFrame';
import { TimeField } from '../kit/TimeField';
import { Words } from '../kit/Words';

const seconds = (ms: number) => `${ms / 1000} s`;

/** The organisation's own times and codes, which hold wherever nothing else is set. */
export function SettingsPart() {
  const canEdit = useCanEdit();
  const [open, setOpen] = useState(false);
  const stored = useQuery({
    queryKey: [PATH],
    queryFn: () => api<{ settings: Settings }>('GET', PATH),
  });
  const now = settingsOf(stored.data?.settings);
  return (
    <Section
      title="Times and codes"
      aside={
        canEdit && stored.data ? (
          <Button kind="quiet" label="Change times and codes" onPress={() => setOpen(true)} />
        ) : null
      }
    >
      {stored.isError ? (
        <Trouble message={messageOf(stored.error)} retry={() => void stored.refetch()} />
      ) : stored.isPending ? (
        <Skeleton rows={2} />
      ) : (
        <View>
          <Words>
            {now.number === undefined
              ? 'The organisation has no number of its own to show.'
              : `The number of the organisation is ${showNumber(now.number)}.`}
          </Words>
          <Words>{`One ring with its pause is ${seconds(now.ringMs)}; a call that is confirmed with a key waits ${seconds(now.confirmWithinMs)} for it; a call is handed on ${now.hopLimit} times at most.`}</Words>
          <Words>
            {now.move.heldMs > 0
              ? `A call hung up at one phone is held ${seconds(now.move.heldMs)} for another; one sent to another rings there ${seconds(now.move.sendForMs)}. At a mobile ${now.move.toDesk} sends it to the desk, ${now.move.transfer} and a number transfers it.`
              : 'A call hung up at one phone ends: it is not held for another.'}
          </Words>
        </View>
      )}
      {open && stored.data ? (
        <SettingsSheet settings={stored.data.settings} onClose={() => setOpen(false)} />
      ) : null}
    </Section>
  );
}

const NO_DIALLING = emptyEstate().dialling;

function SettingsSheet({ settings, onClose }: { settings: Settings; onClose: () => void }) {
  const [draft, setDraft] = useState(settings);
  const dialling = useDialling().data?.dialling ?? NO_DIALLING;
  const [typed, setTyped] = useState(settings.number === undefined ? '' : showNumber(settings.number));
  const read = typedNumber(typed, dialling);
  const save = useSaveSettings(settings, draft, onClose);
  const full = settingsOf(draft);
  const faultAt = (path: string) => faultOf(save.error, path);
  const set = (patch: Partial<Settings>) => setDraft({ ...draft, ...patch });
  const setMove = (patch: Partial<MoveTimes>) => set({ move: { ...draft.move, ...patch } });
  const code = (label: string, field: 'toDesk' | 'transfer') => (
    <Field
      label={label}
      mono
      keyboard="phone-pad"
      value={full.move[field]}
      onChange={(text) => setMove({ [field]: text.replace(/[^\d*#A-D]/gi, '').toUpperCase() })}
      error={
        full.move[field] === ''
          ? 'Keys of a telephone, such as *1'
          : (faultAt(`settings.move.${field}`) ?? faultAt('settings.move') ?? null)
      }
    />
  );
  return (
    <SettingsSheetFrame
      title="Times and codes"
      settings={settings}
      after={draft}
      save={save}
      disabled={full.move.toDesk === '' || full.move.transfer === '' || read.error !== null}
      onClose={onClose}
    >
      {save.isError ? <Trouble message={messageOf(save.error)} /> : null}
      <Field
        label="Number of the organisation; empty: none"
        mono
        keyboard="phone-pad"
        value={typed}
        onChange={(text) => {
          setTyped(text);
          const { number: _before, ...rest } = draft;
          const { e164 } = typedNumber(text, dialling);
          setDraft(e164 === null ? rest : { ...rest, number: e164 });
        }}
        error={read.error ?? faultAt('settings.number')}
        hint={read.shown === typed ? 'Shows on calls out where nobody’s own does' : read.shown}
      />
      <TimeField
        label="One ring and its pause"
        value={full.ringMs}
        least={1}
        onChange={(ms) => ms !== null && set({ ringMs: ms })}
      />
      <TimeField
        label="Waits for the key that accepts a call"
        value={full.confirmWithinMs}
        step={1000}
        onChange={(ms) => ms !== null && set({ confirmWithinMs: ms })}
      />
      <TimeField
        label="Recording the caller’s name takes"
        value={full.recordNameMs}
        onChange={(ms) => ms !== null && set({ recordNameMs: ms })}
      />
      <TimeField
        label="A call hung up at one phone is held for"
        value={full.move.heldMs}
        step={5000}
        onChange={(ms) => ms !== null && setMove({ heldMs: ms })}
        hint="0: it is not held, and ends"
      />
      <TimeField
        label="A call sent to another phone rings there for"
        value={full.move.sendForMs}
        least={1000}
        step={1000}
        onChange={(ms) => ms !== null && setMove({ sendForMs: ms })}
      />
      <TimeField
        label="Signed on at a shared desk after the end of the shift for"
        value={(full.desks.graceS ?? 900) * 1000}
        step={60_000}
        onChange={(ms) => ms !== null && set({ desks: { graceS: Math.round(ms / 1000) } })}
      />
      {code('Keys that send the call to the desk', 'toDesk')}
      {code('Keys before a number to transfer to', 'transfer')}
    </SettingsSheetFrame>
  );
}
