import Svg, { Circle, Line, Path, Polyline, Rect } from 'react-native-svg';

export type IconName =
  | 'today'
  | 'people'
  | 'record'
  | 'slate'
  | 'routes'
  | 'phones'
  | 'back'
  | 'search'
  | 'close'
  | 'undo'
  | 'add'
  | 'minus'
  | 'next'
  | 'import'
  | 'play'
  | 'check'
  | 'eye'
  | 'down'
  | 'up'
  | 'more';

/** Our own line drawings on a grid of 24. */
export function Icon({
  name,
  size = 24,
  color,
}: {
  readonly name: IconName;
  readonly size?: number;
  readonly color: string;
}) {
  const stroke = {
    stroke: color,
    strokeWidth: 2,
    fill: 'none',
    strokeLinecap: 'round',
    strokeLinejoin: 'round',
  } as const;
  const drawing = () => {
    switch (name) {
      case 'today':
        return (
          <>
            <Line x1={4} y1={7} x2={20} y2={7} {...stroke} />
            <Line x1={4} y1={12} x2={16} y2={12} {...stroke} />
            <Line x1={4} y1={17} x2={11} y2={17} {...stroke} />
          </>
        );
      case 'people':
        return (
          <>
            <Circle cx={12} cy={8} r={3.5} {...stroke} />
            <Path d="M5 20c0-4 3-6.5 7-6.5s7 2.5 7 6.5" {...stroke} />
          </>
        );
      case 'phones':
        return (
          <>
            <Rect x={4} y={9} width={16} height={11} rx={1.5} {...stroke} />
            <Path d="M4 9c0-3 3-5 8-5s8 2 8 5" {...stroke} />
            <Line x1={9} y1={14.5} x2={15} y2={14.5} {...stroke} />
          </>
        );
      case 'routes':
        return <Polyline points="4,7 9,7 14,17 20,17" {...stroke} />;
      case 'record':
        return (
          <>
            <Rect x={5} y={4} width={14} height={16} rx={1} {...stroke} />
            <Line x1={9} y1={9} x2={15} y2={9} {...stroke} />
            <Line x1={9} y1={13} x2={15} y2={13} {...stroke} />
          </>
        );
      case 'slate':
        return (
          <>
            <Path d="M5 4h14v12l-4 4H5z" {...stroke} />
            <Line x1={9} y1={9} x2={15} y2={9} {...stroke} />
            <Line x1={9} y1={13} x2={12} y2={13} {...stroke} />
          </>
        );
      case 'back':
        return <Polyline points="14,5 7,12 14,19" {...stroke} />;
      case 'next':
        return <Polyline points="10,5 17,12 10,19" {...stroke} />;
      case 'down':
        return <Polyline points="5,9 12,16 19,9" {...stroke} />;
      case 'up':
        return <Polyline points="5,15 12,8 19,15" {...stroke} />;
      case 'search':
        return (
          <>
            <Circle cx={10.5} cy={10.5} r={5.5} {...stroke} />
            <Line x1={15} y1={15} x2={20} y2={20} {...stroke} />
          </>
        );
      case 'close':
        return (
          <>
            <Line x1={6} y1={6} x2={18} y2={18} {...stroke} />
            <Line x1={18} y1={6} x2={6} y2={18} {...stroke} />
          </>
        );
      case 'undo':
        return <Path d="M8 5L4 9l4 4M4 9h9a6 6 0 0 1 0 12h-3" {...stroke} />;
      case 'add':
        return (
          <>
            <Line x1={12} y1={5} x2={12} y2={19} {...stroke} />
            <Line x1={5} y1={12} x2={19} y2={12} {...stroke} />
          </>
        );
      case 'minus':
        return <Line x1={5} y1={12} x2={19} y2={12} {...stroke} />;
      case 'import':
        return (
          <>
            <Path d="M12 4v10M8 10l4 4 4-4" {...stroke} />
            <Path d="M5 15v4h14v-4" {...stroke} />
          </>
        );
      case 'play':
        return <Path d="M8 5l11 7-11 7z" {...stroke} />;
      case 'check':
        return <Polyline points="5,13 10,18 19,7" {...stroke} />;
      case 'more':
        return (
          <>
            <Circle cx={5} cy={12} r={1} {...stroke} />
            <Circle cx={12} cy={12} r={1} {...stroke} />
            <Circle cx={19} cy={12} r={1} {...stroke} />
          </>
        );
      case 'eye':
        return (
          <>
            <Path d="M3 12c3-5 6-7 9-7s6 2 9 7c-3 5-6 7-9 7s-6-2-9-7z" {...stroke} />
            <Circle cx={12} cy={12} r={2.5} {...stroke} />
          </>
        );
    }
  };
  return (
    <Svg width={size} height={size} viewBox="0 0 24 24" aria-hidden>
      {drawing()}
    </Svg>
  );
}
