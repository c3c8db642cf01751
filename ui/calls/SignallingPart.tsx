import { useState } from 'react';
import { View } from 'react-native';
import { LadderDrawing } from '../drawings/LadderDrawing';
import { messageOf } from '../data/api';
import { fetchFile } from '../data/files';
import { useLadder } from '../data/phones';
import { useRole } from '../data/session';
import { space } from '../kit/theme';
import { Button, Choice, Skeleton } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';

/** The messages of a call as a ladder, each to be read, all to be saved. @param of the address of the call */
export function SignallingPart({ of, file }: { readonly of: string; readonly file: string }) {
  const role = useRole();
  const [masked, setMasked] = useState(true);
  const [open, setOpen] = useState<number | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const ladder = useLadder(of, masked);
  const row = open === null ? undefined : ladder.data?.rows[open];
  const hide = masked || role !== 'specialist';
  return (
    <View style={{ gap: space(3) }}>
      {role === 'specialist' ? (
        <Choice
          label="Private numbers"
          value={masked ? 'masked' : 'whole'}
          options={[
            { value: 'masked', label: 'Masked' },
            { value: 'whole', label: 'Whole' },
          ]}
          onChange={(value) => setMasked(value === 'masked')}
        />
      ) : null}
      {ladder.isError ? <Words tone="rust">{messageOf(ladder.error)}</Words> : null}
      {ladder.data ? (
        <LadderDrawing ladder={ladder.data} open={open} onOpen={setOpen} />
      ) : (
        <Skeleton rows={4} />
      )}
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
        <Button
          label="Save as packet capture"
          onPress={() =>
            void fetchFile(`${of}/capture${hide ? '?masked=1' : ''}`, file).then(
              () => setTrouble(null),
              (error: unknown) => setTrouble(messageOf(error)),
            )
          }
        />
      </View>
      {trouble ? (
        <Words tone="rust" live>
          {trouble}
        </Words>
      ) : null}
      <Sheet title={row ? row.label : ''} open={row !== undefined} onClose={() => setOpen(null)}>
        <Words mono size="small" style={{ lineHeight: 20 }}>
          {row?.text.trimEnd() ?? ''}
        </Words>
      </Sheet>
    </View>
  );
}
