import { useMemo, type ReactNode } from 'react';
import { useMutation, type UseMutationResult } from '@tanstack/react-query';
import type { Settings } from '../../core/estate';
import { api, isApiError } from '../data/api';
import { queryClient } from '../data/data';
import { Refused } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import type { SlateEntry } from '../../core/changes/slate';
import { useAsked, useEffectOfEntries } from '../data/effect';
import { AskWorse, EffectNote } from './EffectNote';
import { ToSlate } from './ToSlate';

export const SETTINGS_PATH = '/api/settings';

/** Writing the organisation's settings, after which the sheet closes. @param before as they were when it was opened */
export const useSaveSettings = (before: Settings, after: Settings, onSaved: () => void) =>
  useMutation({
    mutationFn: () => api('PUT', SETTINGS_PATH, { settings: after, before }),
    onError: (error) => {
      // What somebody else has set is there when the sheet is opened again.
      if (isApiError(error) && error.status === 409)
        void queryClient.invalidateQueries({ queryKey: [SETTINGS_PATH] });
    },
    onSuccess: () => {
      void queryClient.invalidateQueries();
      onSaved();
    },
  });

/** A sheet in which settings of the organisation are changed: put live, or onto a slate. */
export function SettingsSheetFrame({
  title,
  settings,
  after,
  save,
  disabled = false,
  onClose,
  children,
}: {
  readonly title: string;
  readonly settings: Settings;
  readonly after: Settings;
  readonly save: UseMutationResult<unknown, unknown, void>;
  readonly disabled?: boolean;
  readonly onClose: () => void;
  readonly children: ReactNode;
}) {
  const entries = useMemo<readonly SlateEntry[]>(
    () => [
      {
        kind: 'settings',
        id: 'settings',
        name: title.toLowerCase(),
        base: Object.keys(settings).length > 0 ? settings : null,
        after,
      },
    ],
    [title, settings, after],
  );
  const effect = useEffectOfEntries(after === settings || disabled ? null : entries);
  const asked = useAsked(effect, save.mutate);
  return (
    <Sheet
      title={title}
      open
      onClose={onClose}
      footer={<ToSlate kind="plain" grow entries={() => entries} onDone={onClose} />}
      action={{
        label: 'Put live',
        disabled,
        busy: save.isPending || asked.waits,
        onPress: after === settings ? () => save.mutate() : asked.press,
      }}
    >
      {children}
      {after === settings || disabled ? null : <EffectNote effect={effect} />}
      {asked.asks ? <AskWorse effect={effect} onSure={asked.sure} onBack={asked.back} /> : null}
      {isApiError(save.error) && save.error.faults.length === 0 ? <Refused error={save.error} /> : null}
    </Sheet>
  );
}
