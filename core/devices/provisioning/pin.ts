export const PIN_DIGITS = { least: 6, most: 10 } as const;

/** Keys of a telephone by their places: a PIN drawn along them is tried first by whoever guesses. */
const KEYPAD = ['1', '2', '3', '4', '5', '6', '7', '8', '9', '*', '0', '#'];
const placeOf = (digit: string): readonly [number, number] => {
  const at = KEYPAD.indexOf(digit);
  return [Math.floor(at / 3), at % 3];
};

/** Whether each key lies beside the one before, always in the same direction: `2580`, `147`, `369`. */
function isDrawn(digits: string): boolean {
  const steps = [...digits].slice(1).map((digit, i) => {
    const [from, to] = [placeOf(digits[i]!), placeOf(digit)];
    return `${to[0] - from[0]},${to[1] - from[1]}`;
  });
  return (
    new Set(steps).size === 1 && Math.max(...steps[0]!.split(',').map((step) => Math.abs(Number(step)))) <= 1
  );
}

/** Whether a text is a shorter one said over and over: `121212`, `123123`. */
const isRepeated = (digits: string): boolean =>
  Array.from({ length: Math.floor(digits.length / 2) }, (_, i) => i + 1).some(
    (length) =>
      digits.length % length === 0 && digits.slice(0, length).repeat(digits.length / length) === digits,
  );

const isRun = (digits: string): boolean =>
  [1, -1].some((step) =>
    [...digits].slice(1).every((digit, i) => Number(digit) === (Number(digits[i]) + step + 10) % 10),
  );

/** A day written in figures, in any usual order of its parts. */
function isDay(digits: string): boolean {
  if (digits.length !== 6 && digits.length !== 8) return false;
  const day = (text: string) => Number(text) >= 1 && Number(text) <= 31;
  const month = (text: string) => Number(text) >= 1 && Number(text) <= 12;
  const dayAndMonth = (text: string) => {
    const [a, b] = [text.slice(0, 2), text.slice(2, 4)];
    return (day(a) && month(b)) || (month(a) && day(b));
  };
  if (digits.length === 6) return dayAndMonth(digits.slice(0, 4)) || dayAndMonth(digits.slice(2));
  const year = (text: string) => Number(text) >= 1900 && Number(text) <= 2099;
  return (
    (year(digits.slice(4)) && dayAndMonth(digits)) ||
    (year(digits.slice(0, 4)) && dayAndMonth(digits.slice(4)))
  );
}

/**
 * Why a PIN is too weak, in words; null: it is good. What is refused is what is guessed first: too short, repeated or
 * running digits, lines drawn on the keypad, days, and what colleagues know of the person.
 * @param known the person's extensions and numbers
 */
export function pinFault(pin: string, known: readonly string[]): string | null {
  if (!/^\d*$/.test(pin)) return 'must be digits only';
  if (pin.length < PIN_DIGITS.least) return `must have ${PIN_DIGITS.least} digits at least`;
  if (pin.length > PIN_DIGITS.most) return `must have ${PIN_DIGITS.most} digits at most`;
  if (isRepeated(pin)) return 'is the same over and over';
  if (isRun(pin)) return 'counts up or down';
  const half = pin.length / 2;
  if (Number.isInteger(half) && [pin.slice(0, half), pin.slice(half)].every(isDrawn))
    return 'is drawn along the keys';
  if (isDrawn(pin)) return 'is drawn along the keys';
  if (isDay(pin)) return 'is a day in figures';
  const digits = known.map((number) => number.replace(/\D/g, '')).filter((number) => number.length >= 3);
  if (digits.some((number) => number.includes(pin) || pin.includes(number)))
    return 'has the person’s own number in it';
  return null;
}
