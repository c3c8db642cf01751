import type { ReactNode } from 'react';
import { useState } from 'react';
import { View } from 'react-native';
import { usePathname, useRouter } from 'expo-router';
import { useGoKeys, useKey } from '../kit/useKey';
import { useSession } from '../data/session';
import { space, useIsWide, usePalette } from '../kit/theme';
import { Icon, type IconName } from '../kit/icons';
import { Button } from '../kit/parts';
import { SlateBar } from '../changes/SlateBar';
import { Sheet } from '../kit/Sheet';
import { HowDoI } from './HowDoI';
import { PartLabel, PartsRow } from '../kit/PartsBar';
import { PressLink } from '../kit/PressLink';
import { useHeadingFocus } from '../kit/pages';
import { useNews } from '../data/news';
import { usePrinting } from '../kit/usePrinting';
import { Words } from '../kit/Words';

const PLACES: readonly { path: string; label: string; icon: IconName; key: string }[] = [
  { path: '/today', label: 'Today', icon: 'today', key: 't' },
  { path: '/people', label: 'People', icon: 'people', key: 'p' },
  { path: '/phones', label: 'Phones', icon: 'phones', key: 'f' },
  { path: '/routes', label: 'Routes', icon: 'routes', key: 'o' },
  { path: '/record', label: 'Record', icon: 'record', key: 'r' },
];

/** Pages that belong to a place without standing below its path. */
const BELOW: Record<string, readonly string[]> = {
  '/today': ['/slates', '/findings', '/restarts'],
  '/people': ['/import', '/templates'],
  '/phones': ['/devices', '/desks', '/networks', '/sites', '/safety', '/probe', '/provisioning'],
  '/record': ['/calls', '/drills', '/between', '/rounds'],
  '/routes': ['/compare', '/numbers', '/groups', '/menus', '/seats', '/access', '/hours', '/statuses'],
};

/** The pages of a place, each one tap away while one of them is open. */
const PARTS: readonly (readonly { readonly path: string; readonly title: string }[])[] = [
  [
    { path: '/phones', title: 'Registrations' },
    { path: '/devices', title: 'Devices' },
    { path: '/desks', title: 'Desks' },
    { path: '/networks', title: 'Networks' },
    { path: '/sites', title: 'Sites' },
    { path: '/safety', title: 'Emergencies' },
    { path: '/provisioning', title: 'Provisioning' },
    { path: '/probe', title: 'Probe' },
  ],
  [
    { path: '/routes', title: 'Numbers' },
    { path: '/groups', title: 'Groups and menus' },
    { path: '/hours', title: 'Hours and statuses' },
    { path: '/routes/dialling', title: 'Dialling' },
    { path: '/access', title: 'Access numbers' },
    { path: '/routes/table', title: 'Table' },
    { path: '/routes/guard', title: 'Fraud protection' },
  ],
  [
    { path: '/record', title: 'Changes' },
    { path: '/calls', title: 'Calls' },
    { path: '/drills', title: 'Drills' },
    { path: '/rounds', title: 'Rounds' },
    { path: '/between', title: 'Two moments' },
  ],
];

/** The pages of the place that is open; nothing on pages below them. */
function PlaceParts({ path }: { readonly path: string }) {
  const parts = PARTS.find((pages) => pages.some((page) => page.path === path));
  if (!parts) return null;
  return (
    <PartsRow label="Pages of this place">
      {parts.map((page) => (
        <PressLink key={page.path} href={page.path} current={page.path === path} style={() => null}>
          <PartLabel title={page.title} on={page.path === path} />
        </PressLink>
      ))}
    </PartsRow>
  );
}

const KEYS: readonly (readonly [string, string])[] = [
  ['/', 'search people'],
  ['g then t, p, f, o or r', 'go to Today, People, Phones, Routes or Record'],
  ['t', 'try a call (on a person’s page)'],
  ['e', 'edit how the person is reached'],
  ['z', 'undo the last change'],
  ['h', 'how do I …: a search over tasks'],
  ['?', 'this list'],
];

/** The frame around every screen: a bar below on a phone, a rail at the left on a wide screen. */
export function Shell({ children }: { readonly children: ReactNode }) {
  const palette = usePalette();
  const wide = useIsWide();
  const router = useRouter();
  const path = usePathname();
  const { account, signOut } = useSession();
  const [help, setHelp] = useState(false);
  const [asking, setAsking] = useState(false);
  useKey('h', () => setAsking(true));
  useHeadingFocus(path);
  usePrinting();
  useNews();
  useKey('?', () => setHelp(true));
  useGoKeys(Object.fromEntries(PLACES.map((place) => [place.key, () => router.navigate(place.path)])));
  const bar = (
    <View
      role="navigation"
      aria-label="Main"
      style={{
        flexDirection: wide ? 'column' : 'row',
        backgroundColor: palette.sheet,
        borderColor: palette.line,
        ...(wide
          ? { width: 112, borderRightWidth: 1, paddingTop: space(4) }
          : { borderTopWidth: 1, height: 60 }),
      }}
    >
      {wide ? (
        <Words strong size="lead" style={{ textAlign: 'center', paddingBottom: space(6) }}>
          Hostler
        </Words>
      ) : null}
      {PLACES.map((place) => {
        const on =
          path.startsWith(place.path) || (BELOW[place.path] ?? []).some((each) => path.startsWith(each));
        return (
          <PressLink
            key={place.path}
            href={place.path}
            current={on}
            style={({ pressed }) => ({
              ...(wide ? { minHeight: 68 } : { flex: 1, paddingTop: 4 }),
              alignItems: 'center',
              justifyContent: 'center',
              gap: 2,
              borderColor: on ? palette.accent : 'transparent',
              ...(wide ? { borderLeftWidth: 4 } : { borderTopWidth: 3 }),
              backgroundColor: pressed ? palette.tint : palette.sheet,
            })}
          >
            <Icon name={place.icon} size={22} color={on ? palette.ink : palette.soft} />
            <Words size="small" strong={on} tone={on ? 'ink' : 'soft'}>
              {place.label}
            </Words>
          </PressLink>
        );
      })}
      {wide ? (
        <View style={{ marginTop: 'auto', paddingVertical: space(2), gap: space(1), alignItems: 'center' }}>
          <Words size="small" tone="soft" style={{ textAlign: 'center' }}>
            {account?.name}
          </Words>
          <Button kind="quiet" label="How do I …" onPress={() => setAsking(true)} />
          <Button kind="quiet" label="Organisation" onPress={() => router.navigate('/organisation')} />
          <Button kind="quiet" label="Glossary" onPress={() => router.navigate('/glossary')} />
          <Button kind="quiet" label="Account" onPress={() => router.navigate('/account')} />
          <Button kind="quiet" label="Sign out" onPress={() => void signOut()} />
        </View>
      ) : null}
    </View>
  );
  return (
    <View style={{ flex: 1, flexDirection: wide ? 'row' : 'column', backgroundColor: palette.ground }}>
      {wide ? bar : null}
      <View role="main" style={{ flex: 1, minHeight: 0, minWidth: 0 }}>
        <PlaceParts path={path} />
        <View style={{ flex: 1, minHeight: 0 }}>{children}</View>
        <SlateBar />
      </View>
      {wide ? null : bar}
      {asking ? <HowDoI onClose={() => setAsking(false)} /> : null}
      <Sheet title="Keys" open={help} onClose={() => setHelp(false)}>
        {KEYS.map(([key, what]) => (
          <View key={key} style={{ flexDirection: 'row', gap: space(3) }}>
            <Words mono strong style={{ width: 150 }}>
              {key}
            </Words>
            <Words style={{ flex: 1 }}>{what}</Words>
          </View>
        ))}
      </Sheet>
    </View>
  );
}
