import { useMemo } from 'react';
import type { Device } from '../../core/estate';
import { modelOf, showHardwareAddress } from '../../core/devices/phones';
import { Words } from '../kit/Words';
import { DataTable } from '../table/DataTable';
import type { Column } from '../table/columns';

const keyOf = ({ id }: Device) => id;
const nameOf = ({ name }: Device) => name;
const hrefOf = ({ id }: Device) => `/devices/${encodeURIComponent(id)}`;

/** The telephones themselves as a table, on a wide screen. */
export function DevicesTable({
  rows,
  sites,
  findingsOf,
}: {
  readonly rows: readonly Device[];
  readonly sites: ReadonlyMap<string, string>;
  readonly findingsOf: (id: string) => number;
}) {
  const columns = useMemo(
    (): readonly Column<Device>[] => [
      { id: 'name', title: 'Name', width: 210, value: nameOf },
      { id: 'model', title: 'Model', width: 170, value: ({ model }) => modelOf(model)?.name ?? model },
      { id: 'firmware', title: 'Firmware', width: 104, mono: true, value: ({ firmware }) => firmware ?? '' },
      { id: 'site', title: 'Site', width: 180, value: ({ site }) => (site ? (sites.get(site) ?? site) : '') },
      {
        id: 'mac',
        title: 'MAC address',
        width: 180,
        mono: true,
        value: ({ macAddress }) => (macAddress ? showHardwareAddress(macAddress) : ''),
      },
      {
        id: 'findings',
        title: 'Findings',
        width: 96,
        value: ({ id }) => findingsOf(id),
        show: ({ id }) => (
          <Words size="small" strong tone="rust">
            {findingsOf(id) > 0 ? String(findingsOf(id)) : ''}
          </Words>
        ),
      },
    ],
    [sites, findingsOf],
  );
  return (
    <DataTable
      name="devices"
      label="Devices"
      columns={columns}
      rows={rows}
      keyOf={keyOf}
      nameOf={nameOf}
      hrefOf={hrefOf}
    />
  );
}
