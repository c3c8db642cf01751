import type { PersonPage } from '../../api/people';
import { View } from 'react-native';
import { sayBehind, shouldRun } from '../../core/changes/restarts';
import { messageOf } from '../data/api';
import { personKey, queryClient } from '../data/data';
import { useRestart } from '../data/findings';
import { useRole } from '../data/session';
import { usePalette } from '../kit/theme';
import { Button } from '../kit/parts';
import { Note } from '../kit/Marked';
import { Words } from '../kit/Words';

/** Says which phones of a person were not restarted since they were changed: calls here go as they run. */
export function BehindNote({ page }: { readonly page: PersonPage }) {
  const palette = usePalette();
  const role = useRole();
  const restart = useRestart();
  const own = page.behind.flatMap(({ endpoint: id, running }) => {
    const endpoint = page.person.endpoints.find((each) => each.id === id);
    const should = endpoint ? shouldRun(page.person, endpoint) : null;
    return endpoint && should ? [{ endpoint, says: sayBehind(running, should) }] : [];
  });
  if (own.length === 0) return null;
  return (
    <Note color={palette.rings}>
      {own.map(({ endpoint, says }) => (
        <Words key={endpoint.id}>
          <Words strong>{`${endpoint.label} owes a restart: `}</Words>
          {`it ${says}. The call below goes as it runs now.`}
        </Words>
      ))}
      {restart.isError ? <Words tone="rust">{messageOf(restart.error)}</Words> : null}
      {role === 'manager' ? null : (
        <View style={{ flexDirection: 'row' }}>
          <Button
            label="Restarted"
            busy={restart.isPending}
            onPress={() =>
              restart.mutate(
                { endpoints: own.map(({ endpoint }) => endpoint.id), when: 'now' },
                {
                  onSuccess: () =>
                    void queryClient.invalidateQueries({ queryKey: [personKey(page.person.id)] }),
                },
              )
            }
          />
        </View>
      )}
    </Note>
  );
}
