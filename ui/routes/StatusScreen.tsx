import type { ObjectPage } from '../../api/objects';
import { useRouter } from 'expo-router';
import type { Status } from '../../core/estate';
import { messageOf } from '../data/api';
import { useObject, useObjectWork } from '../data/objects';
import { useCanEdit } from '../data/session';
import { ObjectBar } from '../edit/ObjectBar';
import { RemovePart } from '../edit/RemovePart';
import { PageFrame } from '../kit/PageFrame';
import { Field, Section, Skeleton, Trouble } from '../kit/parts';
import { Words } from '../kit/Words';
import { fieldLabel } from '../kit/fieldLabel';

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
              label={fieldLabel('status', 'name')}
              value={work.object.name}
              onChange={(name) => name.trim() && work.edit((before) => ({ ...before, name }))}
            />
            <RemovePart
              kind="status"
              id={page.object.id}
              name={page.object.name}
              label="Remove this status"
              onRemoved={() => router.navigate('/hours')}
            />
          </>
        ) : null}
      </Section>
    </PageFrame>
  );
}
