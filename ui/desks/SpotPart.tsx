import { View } from 'react-native';
import { deskPlan } from '../../core/desks';
import { MOST_PLACES, type Desk, type Device } from '../../core/estate';
import { useObjects } from '../data/objects';
import { DeskPlan } from '../drawings/DeskPlan';
import { Button, Section } from '../kit/parts';
import { Words } from '../kit/Words';

/** Where a desk stands on the plan of its area: a free place is pressed to move it there. */
export function SpotPart({
  desk,
  devices,
  onEdit,
}: {
  readonly desk: Desk;
  readonly devices: readonly Device[];
  readonly onEdit: (spot: Desk['spot'] | undefined) => void;
}) {
  const desks = useObjects<Desk>('desk');
  const siteOf = (device: string) => devices.find(({ id }) => id === device)?.site;
  const here = (desks.data?.objects ?? [])
    .filter(({ device }) => siteOf(device) === siteOf(desk.device))
    .map((each) => (each.id === desk.id ? desk : each));
  const room = deskPlan(here).find((each) => each.desks.some((drawn) => drawn.desk.id === desk.id));
  if (!room) return null;
  const free = {
    ...room,
    rows: Math.min(room.rows, MOST_PLACES - 1),
    columns: Math.min(room.columns, MOST_PLACES - 1),
  };
  return (
    <Section title={desk.area ? `On the plan of ${desk.area}` : 'On the plan'}>
      <Words size="small" tone="soft">
        People choose their desk on this plan. Press a free place to move {desk.name} there.
      </Words>
      <DeskPlan
        room={free}
        stateOf={(each) => ({
          fill: each.id === desk.id ? 'chosen' : 'taken',
          mark: each.id === desk.id ? 'this' : '',
          label: each.id === desk.id ? `${each.name}, this desk` : each.name,
          onPress: null,
        })}
        onPlace={(column, row) => onEdit({ column, row })}
      />
      {desk.spot ? (
        <View style={{ flexDirection: 'row' }}>
          <Button label="Put it on the next free place" onPress={() => onEdit(undefined)} />
        </View>
      ) : null}
    </Section>
  );
}
