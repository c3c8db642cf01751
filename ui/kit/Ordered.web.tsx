import { Fragment } from 'react';
import {
  closestCenter,
  DndContext,
  PointerSensor,
  useSensor,
  useSensors,
  type UniqueIdentifier,
} from '@dnd-kit/core';
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import type { OrderedProps } from './Ordered';

/** Things in their order, moved by drag or by the arrow keys at the handle. */
export function Ordered({ ids, what, onMove, draw }: OrderedProps) {
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  if (!onMove) return ids.map((id, i) => <Fragment key={id}>{draw(i)}</Fragment>);
  const placeOf = ({ id }: { id: UniqueIdentifier }) => ids.indexOf(String(id)) + 1;
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      accessibility={{
        screenReaderInstructions: { draggable: `Use the arrow keys to move the ${what} up or down.` },
        announcements: {
          onDragStart: ({ active }) => `Picked up ${what} ${placeOf(active)}`,
          onDragOver: ({ over }) => (over ? `Over place ${placeOf(over)}` : undefined),
          onDragEnd: ({ over }) => (over ? `Dropped at place ${placeOf(over)}` : 'Put back'),
          onDragCancel: () => 'Put back',
        },
      }}
      onDragEnd={({ active, over }) => {
        const from = ids.indexOf(String(active.id));
        const to = ids.indexOf(String(over?.id ?? ''));
        if (from >= 0 && to >= 0 && from !== to) onMove(from, to);
      }}
    >
      <SortableContext items={[...ids]} strategy={verticalListSortingStrategy}>
        {ids.map((id, i) => (
          <Sortable key={id} id={id} i={i} ids={ids} what={what} onMove={onMove} draw={draw} />
        ))}
      </SortableContext>
    </DndContext>
  );
}

function Sortable({ id, i, ids, what, onMove, draw }: OrderedProps & { id: string; i: number }) {
  const { setNodeRef, setActivatorNodeRef, attributes, listeners, transform, transition, isDragging } =
    useSortable({ id });
  const handle = (
    <button
      ref={setActivatorNodeRef}
      type="button"
      {...attributes}
      {...listeners}
      onKeyDown={(event) => {
        const to = i + (event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0);
        if (to === i || to < 0 || to >= ids.length) return;
        event.preventDefault();
        onMove?.(i, to);
      }}
      aria-label={`Drag ${what} ${i + 1}`}
      className="drag-handle"
    >
      <span aria-hidden="true">⠿</span>
    </button>
  );
  return (
    <div
      ref={setNodeRef}
      style={{
        transform: transform ? `translate3d(0, ${transform.y}px, 0)` : undefined,
        transition,
        opacity: isDragging ? 0.7 : 1,
      }}
    >
      {draw(i, handle)}
    </div>
  );
}
