import type { TableBody } from '../../api/routing';
import { useState } from 'react';
import { View } from 'react-native';
import { type Trunk, FORMS, type Peer } from '../../core/estate';
import { FORM_NAMES } from '../../core/routes';
import { idFrom } from '../data/objects';

import { space } from '../kit/theme';
import { Button, Choice, Empty, Field, LinkRow, LinkRows, Section, Tick } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';

/** The systems that are joined: what each expects, how many calls it takes, and whether it sends calls back. */
export function PeersPart({
  table,
  trunks,
  onEdit,
}: {
  readonly table: TableBody;
  readonly trunks: readonly Trunk[];
  readonly onEdit: ((change: (table: TableBody) => TableBody) => void) | null;
}) {
  const [open, setOpen] = useState<string | null>(null);
  const [adding, setAdding] = useState(false);
  const peer = table.peers.find(({ id }) => id === open);
  const used = new Set(
    table.routes.flatMap(({ when, then }) => [
      ...(when.from ?? []),
      ...('send' in then ? [then.send.peer, ...(then.send.orElse ?? [])] : []),
      ...('fork' in then ? then.fork.branches.map((branch) => branch.peer) : []),
    ]),
  );
  const set = (id: string, next: Peer) =>
    onEdit?.((before) => ({ ...before, peers: before.peers.map((each) => (each.id === id ? next : each)) }));
  return (
    <Section
      title="Systems"
      aside={
        onEdit ? (
          <Button kind="quiet" icon="add" label="Add a system" onPress={() => setAdding(true)} />
        ) : null
      }
    >
      {table.peers.length === 0 ? (
        <Empty
          title="None yet"
          text="A system is anything that speaks SIP: a phone system, a provider, a softphone service."
        />
      ) : (
        <LinkRows>
          {table.peers.map((each) => (
            <LinkRow
              key={each.id}
              title={each.name}
              text={[
                each.role ?? '',
                FORM_NAMES[each.expects],
                each.limit === undefined ? '' : `${each.limit} calls at once`,
                each.id === table.lines ? 'our lines are here' : '',
                each.sendsBack ? 'can send calls back' : '',
              ]
                .filter(Boolean)
                .join(' · ')}
              onPress={() => setOpen(each.id)}
            />
          ))}
        </LinkRows>
      )}
      {peer && onEdit ? (
        <PeerSheet
          peer={peer}
          trunks={trunks}
          isLines={table.lines === peer.id}
          isUsed={used.has(peer.id)}
          onChange={(next) => set(peer.id, next)}
          onLines={() => {
            const { lines, ...rest } = table;
            onEdit(() => (lines === peer.id ? rest : { ...rest, lines: peer.id }));
          }}
          onRemove={() => {
            const { lines, ...rest } = table;
            setOpen(null);
            onEdit(() => ({
              ...rest,
              ...(lines === undefined || lines === peer.id ? {} : { lines }),
              peers: table.peers.filter(({ id }) => id !== peer.id),
            }));
          }}
          onClose={() => setOpen(null)}
        />
      ) : null}
      {adding && onEdit ? (
        <AddPeer
          taken={new Set(table.peers.map(({ id }) => id))}
          onAdd={(next) => {
            onEdit((before) => ({ ...before, peers: [...before.peers, next] }));
            setAdding(false);
          }}
          onClose={() => setAdding(false)}
        />
      ) : null}
    </Section>
  );
}

const FORM_OPTIONS = FORMS.map((form) => ({ value: form, label: FORM_NAMES[form] }));

function AddPeer({
  taken,
  onAdd,
  onClose,
}: {
  taken: ReadonlySet<string>;
  onAdd: (peer: Peer) => void;
  onClose: () => void;
}) {
  const [name, setName] = useState('');
  const [expects, setExpects] = useState<Peer['expects']>('e164');
  const id = idFrom(name);
  return (
    <Sheet
      title="Add a system"
      open
      onClose={onClose}
      action={{
        label: 'Add a system',
        disabled: id === '' || taken.has(id),
        onPress: () => onAdd({ id, name: name.trim(), expects }),
      }}
    >
      <Field
        label="Name"
        value={name}
        onChange={setName}
        autoFocus
        error={taken.has(id) ? 'There is one of this name' : null}
      />
      <Choice
        titled
        label="It expects numbers"
        value={expects}
        options={FORM_OPTIONS}
        onChange={setExpects}
      />
    </Sheet>
  );
}

function PeerSheet({
  peer,
  trunks,
  isLines,
  isUsed,
  onChange,
  onLines,
  onRemove,
  onClose,
}: {
  peer: Peer;
  trunks: readonly Trunk[];
  isLines: boolean;
  isUsed: boolean;
  onChange: (peer: Peer) => void;
  onLines: () => void;
  onRemove: () => void;
  onClose: () => void;
}) {
  const { limit: _limit, ...unlimited } = peer;
  const { trunk: _trunk, ...noTrunk } = peer;
  const { sendsBack: _sendsBack, ...keeps } = peer;
  return (
    <Sheet title={peer.name || 'System'} open onClose={onClose} action={{ label: 'Done', onPress: onClose }}>
      <Field
        label="Name"
        value={peer.name}
        onChange={(name) => onChange({ ...peer, name })}
        error={peer.name.trim() === '' ? 'A system needs a name' : null}
      />
      <Field
        label="What it is for"
        value={peer.role ?? ''}
        onChange={(role) => onChange({ ...peer, role })}
      />
      <View style={{ gap: space(2) }}>
        <Choice
          titled
          label="It expects numbers"
          value={peer.expects}
          options={FORM_OPTIONS}
          onChange={(expects) => onChange({ ...peer, expects })}
        />
      </View>
      <Field
        label="Calls at once, empty: no limit"
        keyboard="decimal-pad"
        mono
        value={peer.limit === undefined ? '' : String(peer.limit)}
        onChange={(text) => {
          const bare = text.replace(/\D/g, '');
          onChange(bare === '' ? unlimited : { ...peer, limit: Number(bare) });
        }}
      />
      <View style={{ gap: space(2) }}>
        <Choice
          titled
          label="Reached by the trunk"
          value={peer.trunk ?? 'none'}
          options={[
            { value: 'none', label: 'None' },
            ...trunks.map(({ id, name }) => ({ value: id, label: name })),
          ]}
          onChange={(trunk) => onChange(trunk === 'none' ? noTrunk : { ...peer, trunk })}
        />
      </View>
      <Tick label="Our own lines are on it" on={isLines} onPress={onLines} />
      <Tick
        label="It can send calls back to the table"
        on={peer.sendsBack !== undefined}
        onPress={() => onChange(peer.sendsBack ? keeps : { ...peer, sendsBack: {} })}
      />
      {isUsed ? (
        <Words size="small" tone="soft">
          Routes speak of it, so it cannot be removed.
        </Words>
      ) : (
        <Button kind="quiet" label="Remove this system" onPress={onRemove} />
      )}
    </Sheet>
  );
}
