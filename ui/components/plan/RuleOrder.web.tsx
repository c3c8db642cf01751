import { closestCenter, DndContext, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { RuleRow, type RuleOrderProps, type RuleRowData } from './RuleRow';

/** Rules in their order, moved by drag, by the arrow keys at the handle, or by buttons. */
export function RuleOrder(props: RuleOrderProps) {
  const { rows, onMove } = props;
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  if (!onMove) return rows.map((row, i) => <RuleRow key={row.id} {...props} row={row} i={i} />);
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      accessibility={{
        screenReaderInstructions: { draggable: 'Use the arrow keys to move the rule up or down.' },
      }}
      onDragEnd={({ active, over }) => {
        const from = rows.findIndex(({ id }) => id === active.id);
        const to = rows.findIndex(({ id }) => id === over?.id);
        if (from >= 0 && to >= 0 && from !== to) onMove(from, to);
      }}
    >
      <SortableContext items={rows.map(({ id }) => id)} strategy={verticalListSortingStrategy}>
        {rows.map((row, i) => (
          <Sortable key={row.id} {...props} row={row} i={i} />
        ))}
      </SortableContext>
    </DndContext>
  );
}

function Sortable(props: RuleOrderProps & { row: RuleRowData; i: number }) {
  const { setNodeRef, setActivatorNodeRef, attributes, listeners, transform, transition, isDragging } =
    useSortable({
      id: props.row.id,
    });
  return (
    <div
      ref={setNodeRef}
      style={{
        transform: transform ? `translate3d(0, ${transform.y}px, 0)` : undefined,
        transition,
        opacity: isDragging ? 0.7 : 1,
      }}
    >
      <RuleRow
        {...props}
        handle={
          <button
            ref={setActivatorNodeRef}
            type="button"
            {...attributes}
            {...listeners}
            onKeyDown={(event) => {
              const to = props.i + (event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0);
              if (to === props.i || to < 0 || to >= props.rows.length) return;
              event.preventDefault();
              props.onMove?.(props.i, to);
            }}
            aria-label={`Drag rule ${props.i + 1}`}
            className="drag-handle"
          >
            <span aria-hidden="true">⠿</span>
          </button>
        }
      />
    </div>
  );
}
