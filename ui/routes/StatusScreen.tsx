import type { ObjectPage } from '../../api/objects';
import { useRouter } from 'expo-router';
import type { Status } from '../../core/estate';
import { messageOf } from '../data/api';
import { useObject, useObjectWork, useRemoveObject } from '../data/objects';
import { useCanEdit } from '../data/session';
import { ObjectBar } from '../edit/ObjectBar';
import { PageFrame } from '../kit/PageFrame';
import { Button, Field, Section, Skeleton, Trouble } from '../kit/parts';
import { Words } from '../kit/Words';

export function StatusScreen({ id }: { readonly id: string }) {
  const page = useObject<Status>('status', id);
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (page.isPending) return <Skeleton />;
  return <StatusView key={id} page={page.data} />;
}

function StatusView({ page }: { page: ObjectPage<Status> }) {
  const router = useRouter();
  const canEdit = useCanEdit();
  const work = useObjectWork('status', page);
  const remove = useRemoveObject('status');
  return (
    <PageFrame
      title={work.object.name}
      back={{ path: '/hours', label: 'Back to hours and statuses' }}
      bar={<ObjectBar work={work} />}
    >
      <Section>
        <Words tone="soft">People set it on themselves, and rules of their plans ask for it.</Words>
        {canEdit ? (
          <>
            <Field
              label="Name"
              value={work.object.name}
              onChange={(name) => name.trim() && work.edit((before) => ({ ...before, name }))}
            />
            <Button
              kind="quiet"
              label="Remove this status"
              busy={remove.isPending}
              onPress={() => remove.mutate(page.object.id, { onSuccess: () => router.navigate('/hours') })}
            />
            {remove.isError ? <Trouble message={messageOf(remove.error)} /> : null}
          </>
        ) : null}
      </Section>
    </PageFrame>
  );
}
