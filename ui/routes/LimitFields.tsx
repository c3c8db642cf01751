import { SCREENS, type DayLimit, type Screening } from '../../core/estate';
import { tidy } from '../edit/tidy';
import { CheckedField } from '../networks/CheckedField';
import { E164_BEGINNING, SeveralField } from '../kit/SeveralField';
import { Choice, Tick } from '../kit/parts';
import { SCREEN_WORDS } from '../access/words';

/** An object, or nothing where nothing is set in it. */
export const someOf = <T extends object>(object: T): T | undefined => {
  const some = tidy(object);
  return Object.keys(some).length > 0 ? some : undefined;
};

type Reading<T> = { readonly value: T } | { readonly error: string };
const readMinutes = (text: string): Reading<number | undefined> => {
  if (text.trim() === '') return { value: undefined };
  const value = /^\d{1,4}$/.test(text.trim()) ? Number(text) : NaN;
  return value >= 1 && value <= 1440 ? { value } : { error: 'Whole minutes from 1 to 1440' };
};
/** Money is kept in hundred-thousandths, and typed to the cent. */
const MOST_MONEY = 10_000_000_000;
export const readMoney = (text: string): Reading<number | undefined> => {
  if (text.trim() === '') return { value: undefined };
  const [, whole = '', part = ''] = /^(\d{1,6})(?:[.,](\d{1,5}))?$/.exec(text.trim()) ?? [];
  const value = whole === '' ? NaN : Number(whole) * 100_000 + Number(part.padEnd(5, '0'));
  return value >= 1 && value <= MOST_MONEY ? { value } : { error: 'An amount such as 25 or 7.50' };
};
export const showMoney = (money: number | undefined): string => {
  if (money === undefined) return '';
  const part = String(money % 100_000)
    .padStart(5, '0')
    .replace(/0+$/, '');
  return `${Math.floor(money / 100_000)}${part === '' ? '' : `.${part.padEnd(2, '0')}`}`;
};

/** How much whoever has a permission may call a day. */
export function LimitFields({
  limit,
  onChange,
}: {
  readonly limit: DayLimit;
  readonly onChange: (limit: DayLimit) => void;
}) {
  return (
    <>
      <CheckedField
        label="Minutes a day to outside numbers; empty: no limit"
        value={limit.minutes}
        show={(minutes) => (minutes === undefined ? '' : String(minutes))}
        read={readMinutes}
        onChange={(minutes) => onChange({ ...limit, minutes })}
      />
      <CheckedField
        label="Money a day by the tariff; empty: no limit"
        value={limit.money}
        show={showMoney}
        read={readMoney}
        onChange={(money) => onChange({ ...limit, money })}
        hint="Holds for calls by an access number and calls back"
      />
    </>
  );
}

/** Which numbers the carrier of a trunk lets show. */
export function ScreeningFields({
  screening,
  onChange,
}: {
  readonly screening: Screening | undefined;
  readonly onChange: (screening: Screening | undefined) => void;
}) {
  return (
    <>
      <Tick
        label="Its carrier lets only some numbers show"
        on={screening !== undefined}
        onPress={() => onChange(screening ? undefined : { allows: [], otherwise: 'replaces' })}
      />
      {screening ? (
        <>
          <SeveralField
            label="Numbers that may show begin with"
            values={screening.allows}
            fits={E164_BEGINNING}
            example="+1250555"
            hint={null}
            onChange={(allows) => allows && onChange({ ...screening, allows })}
          />
          <Choice
            titled
            label="With others its carrier"
            value={screening.otherwise}
            options={SCREENS.map((value) => ({ value, label: SCREEN_WORDS[value] }))}
            onChange={(otherwise) => onChange({ ...screening, otherwise })}
          />
        </>
      ) : null}
    </>
  );
}
