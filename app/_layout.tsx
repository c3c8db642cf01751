import { useEffect, useMemo } from 'react';
import { View } from 'react-native';
import { QueryClientProvider } from '@tanstack/react-query';
import { Slot } from 'expo-router';
import { PaperProvider } from 'react-native-paper';
import { Icon, type IconName } from '../ui/components/icons';
import { fetchTheRest, later } from '../ui/components/later';
import { Trouble } from '../ui/components/parts';
import { queryClient } from '../ui/hooks/data';
import { Shell } from '../ui/screens/Shell';
import { useSession } from '../ui/stores/session';
import { paperTheme, usePalette } from '../ui/theme';

const SignIn = later(() => import('../ui/screens/rest').then((module) => module.SignIn));

export default function RootLayout() {
  const palette = usePalette();
  const theme = useMemo(() => paperTheme(palette), [palette]);
  const { state, ask } = useSession();
  useEffect(() => void ask(), [ask]);
  useEffect(() => {
    if (state === 'in') fetchTheRest();
  }, [state]);
  return (
    <QueryClientProvider client={queryClient}>
      <PaperProvider
        theme={theme}
        settings={{
          icon: ({ name, ...rest }) => (
            <Icon name={name as IconName} {...rest} color={rest.color ?? palette.ink} />
          ),
        }}
      >
        <View style={{ flex: 1, backgroundColor: palette.ground }}>
          {state === 'in' ? (
            <Shell>
              <Slot />
            </Shell>
          ) : state === 'out' ? (
            <SignIn />
          ) : state === 'unreachable' ? (
            <Trouble message="The server cannot be reached." retry={() => void ask()} />
          ) : null}
        </View>
      </PaperProvider>
    </QueryClientProvider>
  );
}
