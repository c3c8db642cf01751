import { useState } from 'react';
import { drillOf, sayExpected, type StandsFor } from '../../core/calls/drills';
import type { Estate, Person } from '../../core/estate';
import type { Call, EstateIndex, Outcome } from '../../core/calls/engine';
import { messageOf } from '../data/api';
import { keepDrill } from '../data/findings';
import { idFrom } from '../data/objects';
import { Button, Choice, Field } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';

/** Keeps a try with its result: from then on every slate is held against it. */
export function KeepDrill({
  call,
  outcome,
  person,
  status,
  slice,
  whom: { name: whomName, ...itself },
  index,
}: {
  readonly call: Call;
  readonly outcome: Outcome;
  /** Whom the call is for; null: a group or menu. */
  readonly person: Person | null;
  readonly status: string | null;
  readonly slice: Estate;
  /** What the drill stands for. */
  readonly whom: StandsFor & { readonly name: string };
  readonly index: EstateIndex;
}) {
  const [open, setOpen] = useState(false);
  const [name, setName] = useState('');
  const [whom, setWhom] = useState<'itself' | 'template'>('itself');
  const [kept, setKept] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const template = person && slice.templates?.find(({ id }) => id === person.template);
  const standsFor: StandsFor = whom === 'template' && template ? { template: template.id } : itself;
  const drill = drillOf(
    { id: idFrom(`${name} ${whomName}`), name: name.trim(), standsFor },
    call,
    outcome,
    person,
    status,
  );
  const keep = async () => {
    try {
      const { ok, failed } = await keepDrill(drill);
      setKept(
        failed.length === 0
          ? `Kept. It holds for ${ok === 1 ? whomName : `all ${ok} of them`}.`
          : `Kept. It fails already for ${failed
              .map((each) => each.for.name)
              .slice(0, 3)
              .join(', ')}${failed.length > 3 ? ` and ${failed.length - 3} more` : ''}.`,
      );
      setTrouble(null);
    } catch (error) {
      setTrouble(messageOf(error));
    }
  };
  const close = () => {
    setOpen(false);
    setKept(null);
  };
  return (
    <>
      <Button label="Keep as a drill" onPress={() => setOpen(true)} />
      {open ? (
        <Sheet
          title="Keep as a drill"
          open
          onClose={close}
          action={
            kept
              ? { label: 'Close', onPress: close }
              : { label: 'Keep it', disabled: !name.trim(), onPress: () => void keep() }
          }
        >
          <Words>
            {`Expected from now on: ${sayExpected(index, drill.expect, person)}. All drills run before a slate is put live.`}
          </Words>
          {kept ? (
            <Words strong live>
              {kept}
            </Words>
          ) : (
            <>
              <Field label="Name of the drill" value={name} onChange={setName} error={trouble} autoFocus />
              {template ? (
                <Choice
                  titled
                  label="It stands for"
                  value={whom}
                  options={[
                    { value: 'itself', label: whomName },
                    { value: 'template', label: `everybody of “${template.name}”` },
                  ]}
                  onChange={setWhom}
                />
              ) : null}
            </>
          )}
        </Sheet>
      ) : null}
    </>
  );
}
