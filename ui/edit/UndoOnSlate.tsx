import { useState } from 'react';
import { useRouter } from 'expo-router';
import { messageOf } from '../data/api';
import { takeBackOnSlate } from '../data/slates';
import { Button } from '../kit/parts';
import { Words } from '../kit/Words';

/** Begins a slate that takes something of the record back, and goes there; what stands in the way is said beside it. */
export function UndoOnSlate({
  label,
  what,
  quiet = true,
}: {
  readonly label: string;
  readonly what: Parameters<typeof takeBackOnSlate>[0];
  readonly quiet?: boolean;
}) {
  const router = useRouter();
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const back = async () => {
    setBusy(true);
    setTrouble(null);
    try {
      router.navigate(`/slates/${await takeBackOnSlate(what)}`);
    } catch (error) {
      setTrouble(messageOf(error));
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      <Button
        kind={quiet ? 'quiet' : 'plain'}
        icon="undo"
        label={label}
        busy={busy}
        onPress={() => void back()}
      />
      {trouble ? (
        <Words size="small" tone="rust" live>
          {trouble}
        </Words>
      ) : null}
    </>
  );
}
