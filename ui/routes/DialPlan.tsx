import type { DiallingPage } from '../../api/routing';
import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { interpret } from '../../core/calls/dialling';
import type { CodeAct, Dialling } from '../../core/estate';
import { faultOf, messageOf } from '../data/api';
import { useSetDialling } from '../data/routing';
import { useCanEdit } from '../data/session';
import { space } from '../kit/theme';
import { Button, Choice, Field, IconButton, Section, Tick, Trouble } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import type { SlateEntry } from '../../core/changes/slate';
import { useAsked, useEffectOfEntries } from '../data/effect';
import { AskWorse, EffectNote } from '../edit/EffectNote';
import { ToSlate } from '../edit/ToSlate';
import { Words } from '../kit/Words';
import { SeveralField } from '../kit/SeveralField';
import { fieldLabel } from '../kit/fieldLabel';

const CODE_OPTIONS: readonly { readonly value: CodeAct | 'nothing'; readonly label: string }[] = [
  { value: 'nothing', label: 'Told in words only' },
  { value: 'twinning', label: 'Switches twinning' },
  { value: 'sign-on', label: 'Signs on at a desk' },
  { value: 'seat', label: 'Signs on to a seat' },
  { value: 'withhold', label: 'Withholds the number for one call' },
  { value: 'messages', label: 'Plays the messages of one’s mailbox' },
];

/** The dial plan as sentences, with what in it contradicts itself. */
export function DialPlan({ page: { dialling, ambiguities } }: { page: DiallingPage }) {
  const canEdit = useCanEdit();
  const [open, setOpen] = useState(false);
  const { outsideCode, nationalPrefix, internationalPrefix, areaCodes, extensionDigits, localWithPrefix } =
    dialling;
  const way = (what: string, digits: string) => (
    <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
      <Words style={{ width: 130 }}>{what}</Words>
      <Words mono>{digits}</Words>
    </View>
  );
  return (
    <Section
      title="Dial plan"
      aside={canEdit ? <Button kind="quiet" label="Change" onPress={() => setOpen(true)} /> : null}
    >
      {way('Inside', `${'x'.repeat(extensionDigits)}`)}
      {way(
        'Local',
        `${outsideCode} ${localWithPrefix ? `${nationalPrefix} ` : ''}${areaCodes.join(' or ')}…`.trim(),
      )}
      {way('National', `${outsideCode} ${nationalPrefix} …`)}
      {way('Abroad', `${outsideCode} ${internationalPrefix} country …`)}
      {(dialling.codes ?? []).map(({ code, does }) => (
        <View key={code}>{way(does, code)}</View>
      ))}
      {ambiguities.length === 0 ? (
        <Words tone="kelp">
          Nothing in it contradicts itself: what is dialled can be read in one way only.
        </Words>
      ) : (
        ambiguities.map(({ kind, example, text }) => (
          <Words key={`${kind} ${example}`} tone="rust">
            {text}
          </Words>
        ))
      )}
      {open ? <DialPlanSheet dialling={dialling} onClose={() => setOpen(false)} /> : null}
    </Section>
  );
}

function DialPlanSheet({ dialling, onClose }: { dialling: Dialling; onClose: () => void }) {
  const [draft, setDraft] = useState(dialling);
  const save = useSetDialling();
  const set = (patch: Partial<Dialling>) => {
    save.reset();
    setDraft({ ...draft, ...patch });
  };
  const faultAt = (path: string) => faultOf(save.error, `dialling.${path}`);
  const codes = draft.codes ?? [];
  const entries = useMemo<readonly SlateEntry[]>(
    () => [{ kind: 'dialling', id: 'dialling', name: 'the dial plan', base: dialling, after: draft }],
    [dialling, draft],
  );
  const isChanged = draft !== dialling;
  const effect = useEffectOfEntries(isChanged ? entries : null);
  const put = () => save.mutate({ dialling: draft, before: dialling }, { onSuccess: onClose });
  const asked = useAsked(effect, put);
  const setCode = (at: number, patch: Partial<(typeof codes)[number]>) =>
    set({ codes: codes.map((each, i) => (i === at ? { ...each, ...patch } : each)) });
  const example = interpret('+12505550101', draft, new Set());
  const digits = (label: string, field: 'outsideCode' | 'nationalPrefix' | 'internationalPrefix') => (
    <Field
      label={label}
      mono
      keyboard="phone-pad"
      value={draft[field]}
      onChange={(text) => set({ [field]: text.replace(/[^0-9*#]/g, '') })}
      error={faultAt(field)}
    />
  );
  return (
    <Sheet
      title="Dial plan"
      open
      onClose={onClose}
      footer={<ToSlate kind="plain" grow entries={() => entries} onDone={onClose} />}
      action={{
        label: 'Put live',
        busy: save.isPending || asked.waits,
        onPress: isChanged ? asked.press : put,
      }}
    >
      {save.isError ? <Trouble message={messageOf(save.error)} /> : null}
      <Field
        label="Country, two letters (ISO 3166)"
        mono
        value={draft.country}
        onChange={(text) =>
          set({
            country: text
              .toUpperCase()
              .replace(/[^A-Z]/g, '')
              .slice(0, 2),
          })
        }
        error={faultAt('country')}
      />
      <SeveralField
        label="Area codes dialled as local"
        values={dialling.areaCodes}
        clean={(text) => text.replace(/\D/g, '')}
        fault={faultAt('areaCodes')}
        onChange={(areaCodes) => areaCodes && set({ areaCodes })}
      />
      {digits('Outside code', 'outsideCode')}
      {digits('Before a national number', 'nationalPrefix')}
      {digits('Before a number abroad', 'internationalPrefix')}
      <Tick
        label="Local numbers too are dialled with the national prefix"
        on={draft.localWithPrefix ?? false}
        onPress={() => set({ localWithPrefix: !draft.localWithPrefix })}
      />
      <Field
        label={fieldLabel('dialling', 'extensionDigits')}
        mono
        keyboard="decimal-pad"
        value={String(draft.extensionDigits)}
        onChange={(text) => set({ extensionDigits: Number(text.replace(/\D/g, '')) || 0 })}
        error={faultAt('extensionDigits')}
      />
      <Words size="lead" strong heading={3}>
        The organisation’s own codes
      </Words>
      {codes.map((each, at) => (
        <View key={at} style={{ gap: space(1) }}>
          <View style={{ flexDirection: 'row', gap: space(2), alignItems: 'flex-end' }}>
            <View style={{ width: 110 }}>
              <Field
                label="Code"
                mono
                keyboard="phone-pad"
                value={each.code}
                onChange={(text) => setCode(at, { code: text.replace(/[^0-9*#]/g, '') })}
                error={faultAt(`codes[${at}].code`)}
              />
            </View>
            <View style={{ flex: 1 }}>
              <Field
                label="What it does"
                value={each.does}
                onChange={(does) => setCode(at, { does })}
                error={faultAt(`codes[${at}].does`)}
              />
            </View>
            <IconButton
              icon="close"
              label={`Remove the code ${each.code}`}
              onPress={() => set({ codes: codes.filter((_, i) => i !== at) })}
            />
          </View>
          <Choice
            label={`What the phone system does at ${each.code}`}
            value={each.acts ?? 'nothing'}
            options={CODE_OPTIONS}
            onChange={(acts) => {
              const { acts: _before, ...rest } = each;
              set({
                codes: codes.map((other, i) =>
                  i !== at ? other : acts === 'nothing' ? rest : { ...rest, acts },
                ),
              });
            }}
          />
        </View>
      ))}
      <Button
        icon="add"
        label="Add a code"
        onPress={() => set({ codes: [...codes, { code: '*', does: '' }] })}
      />
      {example.dialAs ? (
        <Words size="small" tone="soft" live>{`+1 250 555 0101 is dialled as ${example.dialAs}`}</Words>
      ) : null}
      {isChanged ? <EffectNote effect={effect} /> : null}
      {asked.asks ? <AskWorse effect={effect} onSure={asked.sure} onBack={asked.back} /> : null}
    </Sheet>
  );
}
