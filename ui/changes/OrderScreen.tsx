import { View } from 'react-native';
import { useMutation, useQuery } from '@tanstack/react-query';
import { showNumbersIn } from '../../core/calls/dialling';
import { sayStep, type OrderHead, type WorkStep } from '../../core/changes/work-order';
import { api, messageOf } from '../data/api';
import { queryClient } from '../data/data';
import { fetchFile } from '../data/files';
import { slatePath } from '../data/slates';
import { useCanEdit, useRole } from '../data/session';
import { space } from '../kit/theme';
import { PageFrame } from '../kit/PageFrame';
import { Button, Empty, Section, Skeleton, Tick, Trouble } from '../kit/parts';
import { Words } from '../kit/Words';

interface Step extends WorkStep {
  readonly doneBy: string | null;
}
interface Order {
  readonly head: OrderHead;
  readonly gaps: readonly string[];
  readonly steps: readonly Step[];
}
const FORMS = [
  ['pdf', 'PDF'],
  ['md', 'Markdown'],
  ['csv', 'CSV'],
] as const;

/** A slate as an order for a phone system that is not steered from here: step by step, ticked off. */
export function OrderScreen({ id }: { readonly id: string }) {
  const canEdit = useCanEdit();
  const role = useRole();
  const path = `${slatePath(Number(id))}/order`;
  const order = useQuery({ queryKey: [path], queryFn: () => api<Order>('GET', path) });
  const tick = useMutation({
    mutationFn: (body: { readonly step: string; readonly done: boolean }) => api('PUT', path, body),
    onSettled: () => void queryClient.invalidateQueries({ queryKey: [path] }),
  });
  if (order.isError) return <Trouble message={messageOf(order.error)} retry={() => void order.refetch()} />;
  if (order.isPending) return <Skeleton />;
  const { head, gaps, steps } = order.data;
  const done = steps.filter(({ doneBy }) => doneBy !== null).length;
  const whose = [...new Set(steps.map((step) => step.whose))];
  return (
    <PageFrame
      title={`Work order: ${head.name}`}
      text={`${done} of ${steps.length} steps done`}
      back={{ path: `/slates/${id}`, label: 'Back to the slate' }}
    >
      {canEdit && steps.length > 0 ? (
        <Section>
          <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
            {FORMS.map(([form, label]) => (
              <Button
                key={form}
                label={label}
                onPress={() => void fetchFile(`${path}/${form}`, `work-order.${form}`)}
              />
            ))}
          </View>
        </Section>
      ) : null}
      {gaps.map((gap) => (
        <Section key={gap}>
          <Words tone="rust" strong>
            {gap}
          </Words>
        </Section>
      ))}
      {tick.isError ? <Trouble message={messageOf(tick.error)} /> : null}
      {steps.length === 0 ? (
        <Empty
          title="There is nothing to be done"
          text="This slate changes nothing that a phone system has."
        />
      ) : null}
      {whose.map((name) => (
        <Section key={name} title={name}>
          {steps
            .filter((step) => step.whose === name)
            .map((step) => (
              <View key={step.id}>
                {role === 'manager' ? (
                  <Words>{showNumbersIn(sayStep(step))}</Words>
                ) : (
                  <Tick
                    label={showNumbersIn(sayStep(step))}
                    on={step.doneBy !== null}
                    onPress={() => tick.mutate({ step: step.id, done: step.doneBy === null })}
                  />
                )}
                {step.doneBy ? (
                  <Words size="small" tone="soft" style={{ paddingLeft: space(9) }}>
                    {`done by ${step.doneBy}`}
                  </Words>
                ) : null}
              </View>
            ))}
        </Section>
      ))}
    </PageFrame>
  );
}
