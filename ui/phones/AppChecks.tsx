import { View } from 'react-native';
import { DateTime } from 'luxon';
import { APP_PERMISSIONS, RANG_LOCKED } from '../../core/devices/phones';
import { space } from '../kit/theme';
import { Tick } from '../kit/parts';
import { Words } from '../kit/Words';

export interface AppCheck {
  readonly endpoint: string;
  readonly item: string;
  readonly doneAt: string;
}

/** What a mobile's system must let the app do, ticked by whose mobile it is; and the call that proves it. */
export function AppChecks({
  endpoint,
  checks,
  onTick,
}: {
  readonly endpoint: string;
  readonly checks: readonly AppCheck[];
  /** Left out: it is only read. */
  readonly onTick?: (item: string, done: boolean) => void;
}) {
  const doneAt = (item: string) =>
    checks.find((each) => each.endpoint === endpoint && each.item === item)?.doneAt;
  const proven = doneAt(RANG_LOCKED);
  const open = APP_PERMISSIONS.filter(({ id }) => !doneAt(id)).length;
  return (
    <View style={{ gap: space(1) }}>
      {onTick
        ? [
            ...APP_PERMISSIONS,
            { id: RANG_LOCKED, says: 'It rang with the screen locked when somebody called' },
          ].map(({ id, says }) => (
            <Tick
              key={id}
              label={says}
              on={doneAt(id) !== undefined}
              onPress={() => onTick(id, doneAt(id) === undefined)}
            />
          ))
        : APP_PERMISSIONS.map(({ id, says }) => (
            <Words key={id} tone={doneAt(id) ? 'kelp' : 'soft'}>{`${doneAt(id) ? '▰' : '▱'} ${says}`}</Words>
          ))}
      <Words size="small" strong={!proven} tone={proven ? 'kelp' : open > 0 ? 'rust' : 'ochre'}>
        {proven
          ? `Proven by a call with the screen locked, ${DateTime.fromISO(proven).setLocale('en').toFormat('d LLL, HH:mm')}.`
          : open > 0
            ? `${open} of ${APP_PERMISSIONS.length} not ticked yet, and no call has proven it.`
            : 'All ticked; a call with the screen locked has yet to prove it.'}
      </Words>
    </View>
  );
}
