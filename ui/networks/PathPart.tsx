import { View } from 'react-native';
import { PATH_TRANSPORTS, type BoxFile, type NatMethod, type PathSettings } from '../../core/estate';
import { wholePhone } from '../../core/network';
import { Choice, Fold, Tick } from '../kit/parts';
import { space } from '../kit/theme';
import {
  CheckedField,
  orNothing,
  readAddress,
  readOwnAddress,
  readPort,
  readSeconds,
  showNumber,
} from './CheckedField';
import { TRANSPORT_WORDS } from './words';
import { fieldLabel } from '../kit/fieldLabel';

type Change = (change: (path: PathSettings) => PathSettings) => void;

/** How a phone gets out of its network: transport, keep-alive, ports. The method is chosen beside it. */
export function PathPart({
  path,
  method,
  boxes,
  onEdit,
}: {
  readonly path: PathSettings;
  readonly method: NatMethod | undefined;
  /** What the site has; empty: nothing is said of it. */
  readonly boxes: readonly BoxFile[];
  readonly onEdit: Change;
}) {
  /** With what is left out, as it counts. */
  const whole = wholePhone({ id: '', name: '', in: '', address: '', ...path });
  const set = (part: Partial<PathSettings>) => onEdit((before) => ({ ...before, ...part }));
  const drop = <K extends keyof PathSettings>(key: K) =>
    onEdit((before) => {
      const { [key]: _gone, ...rest } = before;
      return rest as PathSettings;
    });
  return (
    <View style={{ gap: space(2) }}>
      <Choice
        label="Signalling goes over"
        titled
        value={whole.transport}
        options={PATH_TRANSPORTS.map((value) => ({ value, label: TRANSPORT_WORDS[value] }))}
        onChange={(transport) => set({ transport })}
      />
      <CheckedField
        label="Keep-alive every so many seconds"
        value={whole.keepAliveS}
        show={showNumber}
        read={orNothing(readSeconds)}
        onChange={(keepAliveS) => set({ keepAliveS })}
        hint="Leave it empty where none is sent"
      />
      {method === 'turn' || method === 'ice' ? (
        <Choice
          label="To the TURN server over"
          titled
          value={whole.turnTransport}
          options={PATH_TRANSPORTS.map((value) => ({ value, label: TRANSPORT_WORDS[value] }))}
          onChange={(turnTransport) => set({ turnTransport })}
        />
      ) : null}
      {method === 'manual-public-address' ? (
        <CheckedField
          label="Public address, written by hand"
          value={path.manual?.address}
          show={(address) => address ?? ''}
          read={readOwnAddress}
          onChange={(address) =>
            address === undefined ? drop('manual') : set({ manual: { ...path.manual, address } })
          }
          hint="The outside address of its router"
        />
      ) : null}
      {method === 'manual-public-address' && path.manual ? (
        <View style={{ flexDirection: 'row', gap: space(2) }}>
          <View style={{ flex: 1 }}>
            <CheckedField
              label={fieldLabel('person', 'endpoints.path.manual.signalPort')}
              value={whole.manual?.signalPort}
              show={showNumber}
              read={readPort}
              onChange={(signalPort) => path.manual && set({ manual: { ...path.manual, signalPort } })}
            />
          </View>
          <View style={{ flex: 1 }}>
            <CheckedField
              label={fieldLabel('person', 'endpoints.path.manual.rtpPort')}
              value={whole.manual?.rtpPort}
              show={showNumber}
              read={readPort}
              onChange={(rtpPort) => path.manual && set({ manual: { ...path.manual, rtpPort } })}
            />
          </View>
        </View>
      ) : null}
      {boxes.length > 1 ? (
        <Choice
          label="It stands"
          titled
          value={path.in ?? 'inner'}
          options={[
            { value: 'inner', label: 'Furthest in' },
            ...boxes.map(({ id, name }) => ({ value: id, label: `Behind ${name}` })),
          ]}
          onChange={(at) => (at === 'inner' ? drop('in') : set({ in: at }))}
        />
      ) : null}
      <Fold title="Address, ports and what is seldom needed">
        <View style={{ gap: space(2) }}>
          <CheckedField
            label="Its own address"
            value={path.address}
            show={(address) => address ?? ''}
            read={(text) => (text.trim() === '' ? { value: undefined } : readAddress(text))}
            onChange={(address) => (address === undefined ? drop('address') : set({ address }))}
            hint="Leave it empty for the next free one of its network"
          />
          <View style={{ flexDirection: 'row', gap: space(2) }}>
            <View style={{ flex: 1 }}>
              <CheckedField
                label={fieldLabel('person', 'endpoints.path.signalPort')}
                value={whole.signalPort}
                show={showNumber}
                read={readPort}
                onChange={(signalPort) => set({ signalPort })}
              />
            </View>
            <View style={{ flex: 1 }}>
              <CheckedField
                label={fieldLabel('person', 'endpoints.path.rtpPort')}
                value={whole.rtpPort}
                show={showNumber}
                read={readPort}
                onChange={(rtpPort) => set({ rtpPort })}
              />
            </View>
          </View>
          <CheckedField
            label="A registration lasts, s"
            value={whole.registerExpiresS}
            show={showNumber}
            read={readSeconds}
            onChange={(registerExpiresS) => set({ registerExpiresS })}
          />
          <Tick
            label="Asks for answers to where it sent from (rport, RFC 3581)"
            on={whole.rport}
            onPress={() => set({ rport: !whole.rport })}
          />
          <Tick
            label="Sends sound from the port at which it listens (symmetric RTP)"
            on={whole.symmetric}
            onPress={() => set({ symmetric: !whole.symmetric })}
          />
        </View>
      </Fold>
    </View>
  );
}
