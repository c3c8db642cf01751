import { useState } from 'react';
import { View } from 'react-native';
import type { Civic, CivicElement } from '../../core/estate';
import { Button, Field } from '../kit/parts';
import { space } from '../kit/theme';

/** The parts of an address that most places have, in the order in which they are written. */
const USUAL: readonly (readonly [CivicElement, string])[] = [
  ['HNO', 'House number'],
  ['RD', 'Street'],
  ['FLR', 'Floor'],
  ['LOC', 'Where in it, such as a hall'],
  ['A3', 'City'],
  ['A1', 'Province or state'],
  ['PC', 'Postal code'],
  ['country', 'Country, two letters'],
];
const MORE: readonly (readonly [CivicElement, string])[] = [
  ['NAM', 'Name of the place'],
  ['BLD', 'Building'],
  ['UNIT', 'Unit'],
  ['ROOM', 'Room'],
  ['SEAT', 'Desk'],
  ['LMK', 'Landmark'],
  ['HNS', 'After the house number'],
  ['PRD', 'Direction before the street'],
  ['PRM', 'Before the street’s name'],
  ['STS', 'Kind of street'],
  ['POD', 'Direction after the street'],
  ['POM', 'After the street’s name'],
  ['RDSEC', 'Section of the street'],
  ['RDBR', 'Branch of the street'],
  ['RDSUBBR', 'Branch of the branch'],
  ['A2', 'County'],
  ['A4', 'District'],
  ['A5', 'Neighbourhood'],
  ['A6', 'Group of streets'],
  ['PCN', 'Postal city'],
  ['POBOX', 'Box'],
  ['PLC', 'Kind of place'],
  ['ADDCODE', 'Code of the address'],
];

/** An address as it is sent in an emergency, part by part; parts that are empty are left out. */
export function CivicFields({
  civic,
  onChange,
  faultOf,
}: {
  readonly civic: Civic;
  readonly onChange: (civic: Civic) => void;
  readonly faultOf?: (element: CivicElement) => string | null;
}) {
  const [isOpen, setOpen] = useState(() => MORE.some(([name]) => civic[name] !== undefined));
  const set = (name: CivicElement, text: string) => {
    const { [name]: _before, ...rest } = civic;
    const value = name === 'country' ? text.toUpperCase() : text;
    onChange(value.trim() === '' ? rest : { ...rest, [name]: value });
  };
  return (
    <View style={{ gap: space(2) }}>
      {[...USUAL, ...(isOpen ? MORE : [])].map(([name, label]) => (
        <Field
          key={name}
          label={label}
          value={civic[name] ?? ''}
          onChange={(text) => set(name, text)}
          error={faultOf?.(name) ?? null}
        />
      ))}
      {isOpen ? null : (
        <View style={{ flexDirection: 'row' }}>
          <Button kind="quiet" label="More parts of the address" onPress={() => setOpen(true)} />
        </View>
      )}
    </View>
  );
}
