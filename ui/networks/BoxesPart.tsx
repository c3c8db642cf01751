import { useState } from 'react';
import { View } from 'react-native';
import { INTERNET, NAT_BEHAVIOURS, type BoxFile, type Forward, type Site } from '../../core/estate';
import { NETWORK_KINDS, wholeBox } from '../../core/network';
import { idFrom } from '../data/objects';
import { Button, Choice, Field, Fold, IconButton, Section, Tick } from '../kit/parts';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import {
  CheckedField,
  orNothing,
  readAddress,
  readBlocked,
  readPorts,
  readSeconds,
  showNumber,
} from './CheckedField';
import { NAT_WORDS } from './words';
import { Ask } from '../kit/Term';
import { fieldLabel } from '../kit/fieldLabel';

type Edit = (change: (site: Site) => Site) => void;
const withBoxes = (site: Site, change: (boxes: readonly BoxFile[]) => readonly BoxFile[]): Site => ({
  ...site,
  network: { boxes: change(site.network?.boxes ?? []) },
});
const freeId = (boxes: readonly BoxFile[], name: string): string => {
  const base = idFrom(name) || 'box';
  for (let n = 1; n <= boxes.length + 1; n++) {
    const id = n === 1 ? base : `${base}-${n}`;
    if (id !== INTERNET && !boxes.some((box) => box.id === id)) return id;
  }
  return base;
};

/** What stands between a site and the internet: begun from a plain kind, then box by box. */
export function BoxesPart({ site, onEdit }: { readonly site: Site; readonly onEdit: Edit }) {
  const boxes = site.network?.boxes ?? [];
  const add = () =>
    onEdit((before) =>
      withBoxes(before, (now) => [
        ...now,
        {
          id: freeId(now, 'router'),
          name: now.length === 0 ? 'Router' : `Router ${now.length + 1}`,
          in: INTERNET,
          inside: `192.168.${now.length + 1}.1`,
          outside: `203.0.113.${now.length + 7}`,
        },
      ]),
    );
  return (
    <Section title="What stands between it and the internet">
      {boxes.length === 0 ? (
        <Words tone="soft">
          Nothing is described yet. Begin with what is most like it; all of it can be changed.
        </Words>
      ) : null}
      {boxes.length === 0 ? (
        <View style={{ gap: space(2) }}>
          {NETWORK_KINDS.map((kind) => (
            <View key={kind.id} style={{ gap: 2 }}>
              <Button
                label={kind.name}
                onPress={() => onEdit((before) => withBoxes(before, () => kind.boxes))}
              />
              <Words size="small" tone="soft">
                {kind.says}
              </Words>
            </View>
          ))}
          <Button
            kind="quiet"
            label="No router: its phones are on the internet directly"
            onPress={() => onEdit((before) => withBoxes(before, (now) => now))}
          />
        </View>
      ) : null}
      {boxes.map((box) => (
        <BoxPart
          key={box.id}
          box={box}
          boxes={boxes}
          onEdit={(change) =>
            onEdit((before) =>
              withBoxes(before, (now) => now.map((each) => (each.id === box.id ? change(each) : each))),
            )
          }
          onRemove={() =>
            onEdit((before) =>
              withBoxes(before, (now) =>
                // What stood behind it stands where it stood.
                now.flatMap((each) =>
                  each.id === box.id ? [] : [each.in === box.id ? { ...each, in: box.in } : each],
                ),
              ),
            )
          }
        />
      ))}
      {boxes.length > 0 ? (
        <View style={{ flexDirection: 'row' }}>
          <Button kind="quiet" icon="add" label="Add a router or firewall" onPress={add} />
        </View>
      ) : null}
    </Section>
  );
}

function BoxPart({
  box,
  boxes,
  onEdit,
  onRemove,
}: {
  readonly box: BoxFile;
  readonly boxes: readonly BoxFile[];
  readonly onEdit: (change: (box: BoxFile) => BoxFile) => void;
  readonly onRemove: () => void;
}) {
  const palette = usePalette();
  const set = (part: Partial<BoxFile>) => onEdit((before) => ({ ...before, ...part }));
  const whole = wholeBox(box);
  const { nat: isNat, forwards } = whole;
  /** Where it may stand: not behind itself. */
  const isBehind = (id: string): boolean => {
    let [here, steps]: [string, number] = [id, 0];
    while (here !== INTERNET && steps++ <= boxes.length) {
      if (here === box.id) return true;
      const at = here;
      here = boxes.find((each) => each.id === at)?.in ?? INTERNET;
    }
    return false;
  };
  return (
    <View style={{ gap: space(2), borderTopWidth: 1, borderColor: palette.line, paddingTop: space(3) }}>
      <Field
        label={fieldLabel('site', 'network.boxes.name')}
        value={box.name}
        onChange={(name) => name.trim() && set({ name })}
      />
      {boxes.length > 1 ? (
        <Choice
          label={fieldLabel('site', 'network.boxes.in')}
          titled
          value={box.in}
          options={[
            { value: INTERNET, label: 'The internet' },
            ...boxes
              .filter(({ id }) => !isBehind(id))
              .map(({ id, name }) => ({ value: id, label: `Behind ${name}` })),
          ]}
          onChange={(at) => set({ in: at })}
        />
      ) : null}
      <Tick
        label="NAT: it writes its own address in place of those inside"
        on={isNat}
        onPress={() => set({ nat: !isNat })}
      />
      <View style={{ flexDirection: 'row', gap: space(2) }}>
        <View style={{ flex: 1 }}>
          <CheckedField
            label={fieldLabel('site', 'network.boxes.inside')}
            value={box.inside}
            show={String}
            read={readAddress}
            onChange={(inside) => set({ inside })}
          />
        </View>
        <View style={{ flex: 1 }}>
          <CheckedField
            label={fieldLabel('site', 'network.boxes.outside')}
            value={box.outside}
            show={String}
            read={readAddress}
            onChange={(outside) => set({ outside })}
          />
        </View>
      </View>
      {isNat ? (
        <Choice
          label="Mapping: one outside port for all destinations, or one for each"
          titled
          value={whole.mapping}
          options={NAT_BEHAVIOURS.map((value) => ({ value, label: NAT_WORDS[value] }))}
          onChange={(mapping) => set({ mapping })}
        />
      ) : null}
      <Choice
        label="Filtering: whom it lets in"
        titled
        value={whole.filtering}
        options={NAT_BEHAVIOURS.map((value) => ({ value, label: NAT_WORDS[value] }))}
        onChange={(filtering) => set({ filtering })}
      />
      <View style={{ flexDirection: 'row', gap: space(2) }}>
        <View style={{ flex: 1 }}>
          <CheckedField
            label="UDP time-out, s"
            value={whole.udpTimeoutS}
            show={showNumber}
            read={readSeconds}
            onChange={(udpTimeoutS) => set({ udpTimeoutS })}
          />
        </View>
        <View style={{ flex: 1 }}>
          <CheckedField
            label="TCP time-out, s"
            value={whole.tcpTimeoutS}
            show={showNumber}
            read={readSeconds}
            onChange={(tcpTimeoutS) => set({ tcpTimeoutS })}
          />
        </View>
      </View>
      <CheckedField
        label={fieldLabel('site', 'network.boxes.blocked')}
        value={whole.blocked}
        show={(blocked) => blocked.join(', ')}
        read={readBlocked}
        onChange={(blocked) => set({ blocked })}
        hint="Such as udp, or tcp:5061, or udp:10000-20000; leave it empty where all is let out"
      />
      <Choice
        label="What it does to SIP (SIP ALG)"
        titled
        beside={<Ask term="sip-alg" />}
        value={box.sipHelper ?? 'as-site'}
        options={[
          { value: 'as-site' as const, label: 'As the site says' },
          { value: 'none' as const, label: 'Leaves it alone' },
          { value: 'rewrites-well' as const, label: 'Rewrites it well' },
          { value: 'breaks-contact' as const, label: 'Breaks the addresses in it' },
          { value: 'breaks-sdp' as const, label: 'Breaks the sound in it' },
        ]}
        onChange={(helper) =>
          onEdit(({ sipHelper: _before, ...rest }) =>
            helper === 'as-site' ? rest : { ...rest, sipHelper: helper },
          )
        }
      />
      <Words strong>Forwarded ports</Words>
      {forwards.map((forward, at) => (
        <ForwardPart
          key={at}
          forward={forward}
          onEdit={(next) => set({ forwards: forwards.map((each, i) => (i === at ? next : each)) })}
          onRemove={() => set({ forwards: forwards.filter((_, i) => i !== at) })}
        />
      ))}
      <View style={{ flexDirection: 'row' }}>
        <Button
          kind="quiet"
          icon="add"
          label="Forward a port"
          onPress={() =>
            set({
              forwards: [
                ...forwards,
                { proto: 'udp', ports: '5060', to: box.inside.replace(/\.\d+$/, '.20') },
              ],
            })
          }
        />
      </View>
      <Fold title="Seldom needed">
        <View style={{ gap: space(1) }}>
          <Tick
            label="Keeps the phone’s own port where it is free"
            on={whole.portPreserving}
            onPress={() => set({ portPreserving: !whole.portPreserving })}
          />
          <Tick
            label="Shares ports between destinations, as Linux does"
            on={whole.sharesPorts}
            onPress={() => set({ sharesPorts: !whole.sharesPorts })}
          />
          <Tick
            label="Turns packets to its own outside address round (hairpinning)"
            on={whole.hairpin}
            onPress={() => set({ hairpin: !whole.hairpin })}
          />
          <Tick
            label="What comes in keeps a mapping alive too"
            on={whole.inboundRefreshes}
            onPress={() => set({ inboundRefreshes: !whole.inboundRefreshes })}
          />
          <CheckedField
            label="UDP time-out once it was answered, s"
            value={whole.udpStreamTimeoutS}
            show={showNumber}
            read={orNothing(readSeconds)}
            onChange={(udpStreamTimeoutS) => set({ udpStreamTimeoutS })}
            hint="Leave it empty where it is the same as above"
          />
        </View>
      </Fold>
      <View style={{ flexDirection: 'row' }}>
        <Button kind="quiet" label={`Remove ${box.name}`} onPress={onRemove} />
      </View>
    </View>
  );
}

function ForwardPart({
  forward,
  onEdit,
  onRemove,
}: {
  readonly forward: Forward;
  readonly onEdit: (forward: Forward) => void;
  readonly onRemove: () => void;
}) {
  const [begun] = useState(forward.proto);
  return (
    <View style={{ gap: space(2) }}>
      <View style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}>
        <View style={{ flex: 1 }}>
          <Choice
            label={`Protocol of the forwarded ports ${forward.ports}`}
            value={forward.proto}
            options={[
              { value: 'udp', label: 'UDP' },
              { value: 'tcp', label: 'TCP' },
            ]}
            onChange={(proto) => onEdit({ ...forward, proto })}
          />
        </View>
        <IconButton
          icon="close"
          label={`Remove the forward of ${begun.toUpperCase()} ${forward.ports}`}
          onPress={onRemove}
        />
      </View>
      <View style={{ flexDirection: 'row', gap: space(2) }}>
        <View style={{ flex: 1 }}>
          <CheckedField
            label={fieldLabel('site', 'network.boxes.forwards.ports')}
            value={forward.ports}
            show={String}
            read={readPorts}
            onChange={(ports) => onEdit({ ...forward, ports })}
          />
        </View>
        <View style={{ flex: 1 }}>
          <CheckedField
            label={fieldLabel('site', 'network.boxes.forwards.to')}
            value={forward.to}
            show={String}
            read={readAddress}
            onChange={(to) => onEdit({ ...forward, to })}
          />
        </View>
      </View>
    </View>
  );
}
