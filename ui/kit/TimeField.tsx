import { useState } from 'react';
import { View } from 'react-native';
import { DEFAULT_SETTINGS } from '../../core/estate';
import { space } from './theme';
import type { TermId } from '../../core/glossary';
import { Field, IconButton } from './parts';
import { Ask } from './Term';

interface Props {
  readonly label: string;
  /** In ms; null where none is set. */
  readonly value: number | null;
  readonly onChange: (ms: number | null) => void;
  readonly least?: number;
  readonly step?: number;
  readonly canBeNone?: boolean;
  readonly hint?: string | null;
  /** Explains the label: a `?` beside it. */
  readonly term?: TermId;
}

/** One ring and its pause, as the organisation's settings have it if nothing else is set. */
const RING_MS = DEFAULT_SETTINGS.ringMs;

const show = (ms: number | null) => (ms === null ? '' : String(Number((ms / 1000).toFixed(3))));

/** A time in seconds, milliseconds or rings, typed or stepped; what is typed wrongly is said beside it and changes nothing. */
export function TimeField({ label, value, onChange, least = 0, step = 500, canBeNone, hint, term }: Props) {
  const [typed, setTyped] = useState<{ text: string; of: number | null } | null>(null);
  const text = typed && typed.of === value ? typed.text : show(value);
  const read = (raw: string): number | null | 'wrong' => {
    const trimmed = raw
      .trim()
      .replace(',', '.')
      .replace(/(?<=\d)\s*s$/, '');
    if (trimmed === '') return canBeNone ? null : 'wrong';
    const other = /^(\d{1,8})\s*(ms|rings?)$/.exec(trimmed);
    if (other) {
      const given = Number(other[1]) * (other[2] === 'ms' ? 1 : RING_MS);
      return given < least ? 'wrong' : given;
    }
    if (!/^\d{1,5}(\.\d{1,3})?$/.test(trimmed)) return 'wrong';
    const ms = Math.round(Number(trimmed) * 1000);
    return ms < least ? 'wrong' : ms;
  };
  const wrong = read(text) === 'wrong';
  const change = (raw: string) => {
    const ms = read(raw);
    setTyped({ text: raw, of: ms === 'wrong' ? value : ms });
    if (ms !== 'wrong' && ms !== value) onChange(ms);
  };
  const stepBy = (by: number) => {
    setTyped(null);
    onChange(Math.max(least, (value ?? 0) + by));
  };
  return (
    <View style={{ flexDirection: 'row', alignItems: 'flex-end', gap: space(1) }}>
      <View style={{ flex: 1 }}>
        <Field
          label={`${label}, in seconds`}
          keyboard="decimal-pad"
          mono
          value={text}
          onChange={change}
          placeholder={canBeNone ? 'none' : ''}
          error={wrong ? `Seconds, ${least / 1000} or more, such as 2.3; or 2300 ms, or 4 rings` : null}
          hint={hint ?? null}
          beside={term ? <Ask term={term} /> : null}
        />
      </View>
      <View style={{ flexDirection: 'row', paddingBottom: wrong || hint ? space(5) : 0 }}>
        <IconButton icon="minus" label={`${label}: less`} onPress={() => stepBy(-step)} />
        <IconButton icon="add" label={`${label}: more`} onPress={() => stepBy(step)} />
      </View>
    </View>
  );
}
