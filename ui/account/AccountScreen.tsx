import { useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import { AccountPart } from './AccountPart';
import { PageFrame } from '../kit/PageFrame';
import { HowDoI } from '../shell/HowDoI';
import { Button } from '../kit/parts';
import { useSession } from '../data/session';
import { space } from '../kit/theme';

/** One's own account, for all who work with the application. */
export function AccountScreen() {
  const { account, signOut } = useSession();
  const router = useRouter();
  const [asking, setAsking] = useState(false);
  return (
    <PageFrame
      title="Your account"
      text={account ? `Signed in as ${account.name}` : ''}
      back={{ path: '/today', label: 'Today' }}
    >
      {asking ? <HowDoI onClose={() => setAsking(false)} /> : null}
      <AccountPart />
      <View style={{ padding: space(4), alignItems: 'flex-start', gap: space(2) }}>
        <Button kind="quiet" label="How do I …" onPress={() => setAsking(true)} />
        <Button kind="quiet" label="Organisation" onPress={() => router.navigate('/organisation')} />
        <Button kind="quiet" label="Glossary" onPress={() => router.navigate('/glossary')} />
        <Button kind="quiet" label="Sign out" onPress={() => void signOut()} />
      </View>
    </PageFrame>
  );
}
