import { array, boolean, lazy, mixed, number, object, string, ValidationError, type AnySchema } from 'yup';
import { DateTime } from 'luxon';
import { isZone } from '../zones';

/** Small Yup parts that the estate's schema is put together from. All are strict: nothing is converted. */

const join = (path: string, key: string) => (path ? `${path}.${key}` : key);

/** Fields told as unknown at most. */
const MOST_UNKNOWN = 20;

type FieldSchemas = Record<string, AnySchema>;

type Tested = ReturnType<AnySchema['asNestedTest']>;
/** Nothing to find fault with. */
const FINE: Tested = (_options: unknown, _panic: unknown, next: (faults: never[]) => void) => next([]);

/** Has a field that is left out gone past; in a list each place is looked at. */
function passAbsent(schema: AnySchema): void {
  const look = schema.asNestedTest.bind(schema);
  schema.asNestedTest = (config) =>
    config.key !== undefined && (config.parent as Record<string, unknown>)[config.key] === undefined
      ? FINE
      : look(config);
}

/**
 * Whether a schema finds nothing wrong with what is left out, by what it is made of. Most fields of most objects are
 * left out, and looking at each of them took a third of the time.
 */
const mayBeAbsent = (schema: AnySchema): boolean =>
  schema.spec.optional &&
  schema.spec.default === undefined &&
  schema.tests.every((test) => test.OPTIONS?.skipAbsent);

type KeysOf<T> = T extends unknown ? keyof T & string : never;

/**
 * An object with exactly these fields; each field that is none of them is a fault at its own path. Given the type that
 * it is the schema of, a field of the type without a schema does not compile, nor one of the schema without a field.
 */
export const closed = <T = never>(
  fields: [T] extends [never] ? FieldSchemas : { readonly [K in KeysOf<T>]-?: AnySchema },
) => {
  for (const field of Object.values(fields as FieldSchemas)) if (mayBeAbsent(field)) passAbsent(field);
  return object(fields as FieldSchemas)
    .required('is missing')
    .typeError('must be an object')
    .test('unknown', function (value: unknown) {
      if (value === null || typeof value !== 'object') return true;
      const unknown = Object.keys(value).filter((key) => !Object.hasOwn(fields, key));
      if (unknown.length === 0) return true;
      const known = Object.keys(fields).join(', ');
      return new ValidationError(
        unknown.slice(0, MOST_UNKNOWN).map((key) =>
          this.createError({
            path: join(this.path, key.slice(0, 80)),
            message: `is not a known field here (known: ${known})`,
          }),
        ),
        value,
        this.path,
      );
    });
};

/** A schema chosen by looking at the value. */
export const choose = (by: (value: unknown) => AnySchema): AnySchema => lazy(by) as unknown as AnySchema;

/**
 * A schema chosen by what a value looks like, each made once: making one takes many times as long as using it.
 * @param lookOf what it looks like, one of a few words
 */
export function chooseOf<K extends string>(
  lookOf: (value: unknown) => K,
  make: (look: K) => AnySchema,
): AnySchema {
  const made = new Map<K, AnySchema>();
  return choose((value) => {
    const look = lookOf(value);
    const known = made.get(look);
    if (known) return known;
    const schema = make(look);
    made.set(look, schema);
    return schema;
  });
}

const ANYTHING = mixed();
/** The schema, where the field may be left out. */
export function maybe(schema: AnySchema): AnySchema {
  const either = choose((value) => (value === undefined ? ANYTHING : schema));
  passAbsent(either);
  return either;
}

export const list = (of: AnySchema) => array().of(of).typeError('must be a list');
export const requiredList = (of: AnySchema) => list(of).required('is missing');

export const text = (max = 500) =>
  string().typeError('must be text').max(max, `must be ${max} characters or fewer`);
export const requiredText = (max = 500) => text(max).required('is missing');

export const id = () =>
  text(120).matches(/^[^\s/]+$/, {
    message: 'must be an id without spaces or slashes',
    excludeEmptyString: false,
  });
export const requiredId = () => id().required('is missing');

export const flag = () => boolean().typeError('must be true or false');

/** A part of a whole, from 0 to `most`. */
export const share = (most: number) => {
  const message = `must be a number from 0 to ${most}`;
  return number().typeError(message).min(0, message).max(most, message);
};

const whole = (least: number, unit: string, most = Number.MAX_SAFE_INTEGER) => {
  const message =
    `must be a whole number${unit ? ` of ${unit}` : ''}, ${least} or more` +
    (most < Number.MAX_SAFE_INTEGER ? `, ${most} at most` : '');
  return number().typeError(message).integer(message).min(least, message).max(most, message);
};
/** A duration in whole ms. */
export const ms = (least = 0) => whole(least, 'ms', 86_400_000);
export const count = (least = 0, most?: number) => whole(least, '', most);

export const oneOf = <T extends string>(values: readonly T[]) => {
  const message = `must be one of ${values.join(', ')}`;
  return string().typeError(message).oneOf(values, message);
};

export const e164 = () =>
  text(40).matches(/^\+[1-9]\d{1,18}$/, 'must be an E.164 number: + and digits, without spaces');

/** A language as RFC 5646 writes it, such as `fr` or `pt-BR`. */
export const languageTag = () =>
  text(35).matches(/^[a-z]{2,3}(-[A-Za-z0-9]{2,8})*$/, {
    message: 'must be a language such as fr or pt-BR',
    excludeEmptyString: false,
  });

export const clock = () =>
  text(5)
    .matches(/^([01]\d|2[0-3]):[0-5]\d$/, 'must be a time HH:MM from 00:00 to 23:59')
    .required('is missing');

export const date = () =>
  text(10)
    .required('is missing')
    .test('date', 'must be a date YYYY-MM-DD', (value) => {
      if (value === undefined) return true;
      if (!/^\d{4}-\d{2}-\d{2}$/.test(value)) return false;
      const parsed = new Date(`${value}T00:00:00Z`);
      return !Number.isNaN(parsed.getTime()) && parsed.toISOString().slice(0, 10) === value;
    });

/** A moment as ISO 8601 with its offset. */
export const instant = () =>
  text(40).test(
    'instant',
    'must be a time such as 2026-11-25T17:00:00-07:00, with its offset',
    (value) =>
      value === undefined ||
      (/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}(:\d{2}(\.\d{1,3})?)?(Z|[+-]\d{2}:\d{2})$/.test(value) &&
        DateTime.fromISO(value).isValid),
  );

export const timeZone = () =>
  requiredText(80).test(
    'zone',
    'must be an IANA time zone such as America/Vancouver',
    (value) => value === undefined || isZone(value),
  );

/** Any value, to be checked elsewhere. */
export const anything = () => mixed();

/** A schema that refuses every value except an absent one, with a reason. */
export const absent = (why: string) => mixed().test('absent', why, (value) => value === undefined);

/** The value's own field, read without trusting its type. */
export const field = (value: unknown, key: string): unknown =>
  typeof value === 'object' && value !== null ? (value as Record<string, unknown>)[key] : undefined;

export const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
