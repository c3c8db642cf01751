import type { PhoneRow } from '../../api/phones';
import { useState } from 'react';
import { View } from 'react-native';
import { useAccount, usePassword } from '../data/phones';
import { useRole } from '../data/session';
import { space } from '../kit/theme';
import { Button, Refused, Section } from '../kit/parts';
import { Words } from '../kit/Words';
import { HandoverSheet } from './HandoverSheet';

/** What a person gets to set up a softphone. */
export function HandoverPart({ row }: { readonly row: PhoneRow }) {
  const role = useRole();
  const account = useAccount(row.endpoint, role !== 'manager');
  const password = usePassword(row.endpoint);
  const [open, setOpen] = useState(false);
  if (role === 'manager' || !account.data?.ports) return null;
  return (
    <Section title="Hand-over sheet" term="hand-over-sheet">
      {open ? (
        <HandoverSheet
          title={`${row.label} of ${row.name}`}
          endpoint={row.endpoint}
          kind={row.kind}
          extension={row.extension ?? 'your extension'}
          account={{
            ...account.data,
            ...(password.data?.password === undefined ? {} : { password: password.data.password }),
          }}
          more={
            <>
              {role === 'specialist' && !password.data ? (
                <Button label="With its password" onPress={() => password.mutate(false)} />
              ) : null}
              <Button label="Close it" onPress={() => setOpen(false)} />
            </>
          }
        />
      ) : (
        <View style={{ gap: space(2) }}>
          <Words tone="soft">Steps and values for the person, with a code that the app reads.</Words>
          <View style={{ flexDirection: 'row' }}>
            <Button label="Open the sheet" onPress={() => setOpen(true)} />
          </View>
        </View>
      )}
      <Refused error={password.error} />
    </Section>
  );
}
