import { useState } from 'react';
import { View } from 'react-native';
import type { ServiceCode } from '../../core/estate';
import { usePressCode } from '../data/phones';
import { space } from '../kit/theme';
import { Button, Field, Refused } from '../kit/parts';
import { Words } from '../kit/Words';

/** Has the stand-in of a phone dial a code, and says what was heard there. */
export function PressCode({ endpoint, code }: { readonly endpoint: string; readonly code: ServiceCode }) {
  const press = usePressCode(endpoint);
  const [typed, setTyped] = useState('');
  return (
    <View style={{ gap: space(2) }}>
      <Field
        label="Typed when it asks, several with spaces between"
        mono
        keyboard="phone-pad"
        value={typed}
        onChange={(text) => setTyped(text.replace(/[^\d ]/g, ''))}
      />
      <View style={{ flexDirection: 'row' }}>
        <Button
          label={`Press it on its stand-in (${code.code})`}
          busy={press.isPending}
          onPress={() =>
            press.mutate({ code: code.code, typed: typed.split(' ').filter((each) => each !== '') })
          }
        />
      </View>
      {press.data?.heard.map((says) => (
        <Words key={says} live>{`“${says}”`}</Words>
      ))}
      <Refused error={press.error} />
    </View>
  );
}
