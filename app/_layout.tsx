import { useEffect, useMemo } from 'react';
import { useColorScheme, View } from 'react-native';
import { QueryClientProvider } from '@tanstack/react-query';
import { Slot } from 'expo-router';
import { PaperProvider } from 'react-native-paper';
import { Icon, type IconName } from '../ui/kit/icons';
import { fetchTheRest, later } from '../ui/kit/later';
import { Motion } from '../ui/kit/Motion';
import { Trouble } from '../ui/kit/parts';
import { queryClient } from '../ui/data/data';
import { Shell } from '../ui/shell/Shell';
import { usePressKeys } from '../ui/kit/pressKeys';
import { useSession } from '../ui/data/session';
import { DARK, LIGHT, PaletteContext, paperTheme } from '../ui/kit/theme';

const OwnScreen = later(() => import('../ui/rest').then((module) => module.OwnScreen));
const SignIn = later(() => import('../ui/rest').then((module) => module.SignIn));

export default function RootLayout() {
  const palette = useColorScheme() === 'dark' ? DARK : LIGHT;
  const theme = useMemo(() => paperTheme(palette), [palette]);
  const settings = useMemo(
    () => ({
      icon: ({ name, ...rest }: { name: string; size: number; color?: string }) => (
        <Icon name={name as IconName} {...rest} color={rest.color ?? palette.ink} />
      ),
    }),
    [palette],
  );
  const { state, account, ask } = useSession();
  usePressKeys();
  useEffect(() => void ask(), [ask]);
  useEffect(() => {
    if (state === 'in') fetchTheRest();
  }, [state]);
  return (
    <QueryClientProvider client={queryClient}>
      <PaletteContext value={palette}>
        <PaperProvider theme={theme} settings={settings}>
          <Motion>
            <View style={{ flex: 1, backgroundColor: palette.ground }}>
              {state === 'in' && account?.role === 'staff' ? (
                <OwnScreen />
              ) : state === 'in' ? (
                <Shell>
                  <Slot />
                </Shell>
              ) : state === 'out' ? (
                <SignIn />
              ) : state === 'unreachable' ? (
                <Trouble message="The server cannot be reached." retry={() => void ask()} />
              ) : null}
            </View>
          </Motion>
        </PaperProvider>
      </PaletteContext>
    </QueryClientProvider>
  );
}
