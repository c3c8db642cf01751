import { useMemo, useRef } from 'react';
import { PanResponder, View } from 'react-native';
import { editStageTime, editTarget, placeOfSetting, treatmentAt, type TargetPatch } from '../../core/editing';
import { entryOf, type Person, type RingTarget } from '../../core/estate';
import type { Strip } from '../../core/calls/views';
import { usePalette } from '../kit/theme';
import { BAR, type StripLayout } from '../kit/layout';

interface Props {
  readonly layout: StripLayout;
  readonly strip: Strip;
  readonly person: Person;
  readonly onEdit: (change: (person: Person) => Person, merge?: string) => void;
}

const secondsOf = (ms: number) => `${ms / 1000} s`;

/** Grips on the strip: a lane is delayed, guard and give-up are set at their marks, a stage is made longer. */
export function StripHandles({ layout, strip, person, onEdit }: Props) {
  const { x } = layout;
  const grips = layout.lanes.flatMap(({ lane, barTop, marks }) => {
    const place = placeOfSetting(lane.setting);
    const first = lane.segments[0];
    if (!place || place.person !== person.id || !first) return [];
    const stage = treatmentAt(person.plan, place.treatment).stages[place.stage];
    const target = stage && 'ring' in stage ? stage.ring[place.target] : undefined;
    if (!target) return [];
    const patch = (change: TargetPatch, what: string) =>
      onEdit((p) => editTarget(p, place, change), `${lane.endpoint}/strip-${what}`);
    const at = (kind: 'guard' | 'give-up') => marks.find((mark) => mark.kind === kind)?.x;
    const of = (value: RingTarget[keyof RingTarget]) => (typeof value === 'number' ? value : 0);
    const guardX = at('guard');
    const giveUpX = at('give-up');
    const base = { key: lane.endpoint, top: barTop - 8, height: BAR + 16 };
    return [
      {
        ...base,
        top: barTop + 1,
        height: BAR,
        key: `${lane.endpoint}-delay`,
        label: `${lane.label}: delay`,
        x: x(first.fromMs),
        value: of(target.delayMs),
        step: 500,
        set: (ms: number) => patch({ delayMs: ms || undefined }, 'delay'),
      },
      ...(guardX === undefined
        ? []
        : [
            {
              ...base,
              key: `${lane.endpoint}-guard`,
              label: `${lane.label}: answer guard`,
              x: guardX,
              value: of(target.acceptAfterMs),
              step: 100,
              set: (ms: number) => patch({ acceptAfterMs: ms || undefined }, 'guard'),
            },
          ]),
      ...(giveUpX === undefined
        ? []
        : [
            {
              ...base,
              key: `${lane.endpoint}-give-up`,
              label: `${lane.label}: stop ringing after`,
              x: giveUpX,
              value: of(target.giveUpAfterMs),
              step: 500,
              set: (ms: number) => patch({ giveUpAfterMs: ms || undefined }, 'give-up'),
            },
          ]),
    ];
  });
  const stages = strip.bands.flatMap((band, i) => {
    const place = band.kind === 'ring' ? placeOfSetting(entryOf(band.setting, 'ring', 0)) : null;
    if (!place || place.person !== person.id) return [];
    const stage = treatmentAt(person.plan, place.treatment).stages[place.stage];
    const end = band.fromMs + (stage && 'ring' in stage ? stage.forMs : Infinity);
    if (!stage || !('ring' in stage) || end > strip.horizonMs) return [];
    return [
      {
        key: `stage-${i}`,
        label: `Step ${place.stage + 1}: ring for`,
        x: x(end),
        top: 14,
        height: 30,
        value: stage.forMs,
        step: 1000,
        set: (ms: number) =>
          onEdit(
            (p) => editStageTime(p, place.treatment, place.stage, Math.max(1000, ms)),
            `${place.treatment}/${place.stage}/strip-for`,
          ),
      },
    ];
  });
  const msPerPx = strip.horizonMs / layout.width;
  return [...grips, ...stages].map(({ key, ...grip }) => <Grip key={key} {...grip} msPerPx={msPerPx} />);
}

interface GripProps {
  readonly label: string;
  readonly x: number;
  readonly top: number;
  readonly height: number;
  readonly value: number;
  readonly step: number;
  readonly msPerPx: number;
  readonly set: (ms: number) => void;
}

/** As wide as a thumb needs; what is drawn within it is narrow. */
const WIDTH = 44;

/** One grip: dragged sideways, or moved by the arrow keys. */
function Grip({ label, x, top, height, value, step, msPerPx, set }: GripProps) {
  const palette = usePalette();
  const now = useRef({ value, msPerPx, set });
  now.current = { value, msPerPx, set };
  const pan = useMemo(() => {
    let from = { value: 0, msPerPx: 1 };
    return PanResponder.create({
      onStartShouldSetPanResponder: () => true,
      onMoveShouldSetPanResponder: () => true,
      onPanResponderTerminationRequest: () => false,
      onPanResponderGrant: () => {
        from = { value: now.current.value, msPerPx: now.current.msPerPx };
      },
      onPanResponderMove: (_event, { dx }) => {
        const next = Math.max(0, Math.round((from.value + dx * from.msPerPx) / step) * step);
        if (next !== now.current.value) now.current.set(next);
      },
    });
  }, [step]);
  const key = {
    tabIndex: 0,
    'aria-valuenow': value / 1000,
    'aria-valuetext': secondsOf(value),
    'aria-orientation': 'horizontal',
    onKeyDown: (event: { key: string; preventDefault: () => void; stopPropagation: () => void }) => {
      const by = event.key === 'ArrowRight' ? step : event.key === 'ArrowLeft' ? -step : 0;
      if (by === 0) return;
      event.preventDefault();
      event.stopPropagation();
      set(Math.max(0, value + by));
    },
  } as object;
  return (
    <View
      {...pan.panHandlers}
      {...key}
      role="slider"
      aria-label={label}
      style={
        {
          position: 'absolute',
          left: x - WIDTH / 2,
          top: top - (Math.max(WIDTH, height) - height) / 2,
          width: WIDTH,
          height: Math.max(WIDTH, height),
          alignItems: 'center',
          justifyContent: 'center',
          cursor: 'ew-resize',
          touchAction: 'none',
        } as object
      }
    >
      <View
        style={{
          width: 8,
          height: 14,
          borderRadius: 3,
          borderWidth: 2,
          borderColor: palette.accent,
          backgroundColor: palette.sheet,
        }}
      />
    </View>
  );
}
