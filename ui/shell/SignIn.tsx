import { View } from 'react-native';
import { useState } from 'react';
import { object, string, ValidationError } from 'yup';
import { isApiError, messageOf } from '../data/api';
import { useSession } from '../data/session';
import { space, usePalette } from '../kit/theme';
import { Button, Field } from '../kit/parts';
import { usePageTitle } from '../kit/usePageTitle';
import { Words } from '../kit/Words';

const schema = object({
  name: string().trim().required('Your account name').max(80, 'At most 80 characters'),
  password: string().required('Your password').max(200, 'At most 200 characters'),
});

export function SignIn() {
  usePageTitle('Sign in');
  const palette = usePalette();
  const signIn = useSession((session) => session.signIn);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [code, setCode] = useState<string | null>(null);
  const [given, setGiven] = useState({ name: '', password: '' });
  const [faults, setFaults] = useState<Readonly<Partial<Record<keyof typeof given, string>>>>({});
  const [busy, setBusy] = useState(false);
  const change = (part: Partial<typeof given>) => {
    setGiven((before) => ({ ...before, ...part }));
    setFaults((before) => ({
      ...before,
      ...Object.fromEntries(Object.keys(part).map((key) => [key, undefined])),
    }));
  };
  const submit = async () => {
    if (busy) return;
    setTrouble(null);
    try {
      schema.validateSync(given, { abortEarly: false });
    } catch (error) {
      if (!(error instanceof ValidationError)) throw error;
      setFaults(Object.fromEntries(error.inner.map(({ path, message }) => [path, message])));
      return;
    }
    setBusy(true);
    try {
      await signIn(given.name.trim(), given.password, code ?? undefined);
    } catch (error) {
      // Asked for the first time, it is a question, not a fault.
      if (isApiError(error) && error.body.needsCode === true && code === null) setCode('');
      else setTrouble(messageOf(error));
    } finally {
      setBusy(false);
    }
  };
  return (
    <View
      role="main"
      style={{
        flex: 1,
        alignItems: 'center',
        justifyContent: 'center',
        backgroundColor: palette.ground,
        padding: space(6),
      }}
    >
      <View style={{ width: '100%', maxWidth: 380, gap: space(4) }}>
        <Words size="page" strong heading={1}>
          Hostler
        </Words>
        <Words tone="soft">How everybody is reached away from the desk: what rings when, and why.</Words>
        <Field
          label="Name"
          value={given.name}
          onChange={(name) => change({ name })}
          error={faults.name ?? null}
          autoComplete="username"
          autoFocus
          onSubmit={() => void submit()}
        />
        <Field
          label="Password"
          secret
          value={given.password}
          onChange={(password) => change({ password })}
          error={faults.password ?? null}
          autoComplete="current-password"
          onSubmit={() => void submit()}
        />
        {code === null ? null : (
          <Field
            label="Code of your authenticator app, or a recovery code"
            mono
            autoFocus
            value={code}
            onChange={setCode}
            onSubmit={() => void submit()}
          />
        )}
        {trouble ? (
          <View role="alert">
            <Words tone="rust" strong>
              {trouble}
            </Words>
          </View>
        ) : null}
        <Button kind="main" label="Sign in" busy={busy} onPress={() => void submit()} />
      </View>
    </View>
  );
}
