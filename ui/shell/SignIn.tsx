import { View } from 'react-native';
import { yupResolver } from '@hookform/resolvers/yup';
import { Controller, useForm } from 'react-hook-form';
import { useState } from 'react';
import { object, string } from 'yup';
import { isApiError, messageOf } from '../data/api';
import { useSession } from '../data/session';
import { space, usePalette } from '../kit/theme';
import { Button, Field } from '../kit/parts';
import { Words } from '../kit/Words';

const schema = object({
  name: string().trim().required('Your account name').max(80, 'At most 80 characters'),
  password: string().required('Your password').max(200, 'At most 200 characters'),
});

export function SignIn() {
  const palette = usePalette();
  const signIn = useSession((session) => session.signIn);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [code, setCode] = useState<string | null>(null);
  const { control, handleSubmit, formState } = useForm({
    resolver: yupResolver(schema),
    defaultValues: { name: '', password: '' },
  });
  const submit = handleSubmit(async ({ name, password }) => {
    setTrouble(null);
    try {
      await signIn(name.trim(), password, code ?? undefined);
    } catch (error) {
      // Asked for the first time, it is a question, not a fault.
      if (isApiError(error) && error.body.needsCode === true && code === null) setCode('');
      else setTrouble(messageOf(error));
    }
  });
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
        <Controller
          control={control}
          name="name"
          render={({ field, fieldState }) => (
            <Field
              label="Name"
              value={field.value}
              onChange={field.onChange}
              error={fieldState.error?.message ?? null}
              autoComplete="username"
              autoFocus
              onSubmit={() => void submit()}
            />
          )}
        />
        <Controller
          control={control}
          name="password"
          render={({ field, fieldState }) => (
            <Field
              label="Password"
              secret
              value={field.value}
              onChange={field.onChange}
              error={fieldState.error?.message ?? null}
              autoComplete="current-password"
              onSubmit={() => void submit()}
            />
          )}
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
        <Button kind="main" label="Sign in" busy={formState.isSubmitting} onPress={() => void submit()} />
      </View>
    </View>
  );
}
