import { View } from 'react-native';
import type { EmergencyTry, SafetyRow } from '../../api/safety';
import { sayBasis, sayPlaceFault } from '../../core/emergency';
import { showNumber } from '../../core/calls/dialling';
import { capital } from '../../core/estate';
import { messageOf } from '../data/api';
import { fetchFile } from '../data/files';
import { useSafety, useTryEmergency } from '../data/safety';
import { useCanEdit } from '../data/session';
import { PageFrame } from '../kit/PageFrame';
import { Button, Empty, LinkRow, LinkRows, Refused, Section, Skeleton, Trouble } from '../kit/parts';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';

/** One phone that emergency calls can come from: where it is, what is wrong, and a call that is tried. */
export function SafePhoneScreen({ endpoint }: { readonly endpoint: string }) {
  const safety = useSafety();
  if (safety.isError)
    return <Trouble message={messageOf(safety.error)} retry={() => void safety.refetch()} />;
  if (safety.isPending) return <Skeleton rows={4} />;
  const row = safety.data.rows.find((each) => each.endpoint === endpoint);
  if (!row)
    return (
      <Empty
        heading
        title="No such phone"
        text="No phone of this name calls by the organisation. It may have been removed, or nobody is signed on there."
      />
    );
  return <PhoneView key={endpoint} row={row} numbers={safety.data.numbers} />;
}

function PhoneView({ row, numbers }: { readonly row: SafetyRow; readonly numbers: readonly string[] }) {
  const canTry = useCanEdit();
  return (
    <PageFrame
      title={`${row.name}: ${row.label}`}
      text={`A call to ${numbers.join(' or ')} from this phone`}
      back={{ path: '/safety', label: 'Back to places for emergencies' }}
    >
      <Section title="What goes out with it">
        <Words strong>{row.place ?? 'No place is known.'}</Words>
        {row.place === null && row.siteName ? (
          <Words tone="soft">{`The phone stands at ${row.siteName}.`}</Words>
        ) : row.place === null ? null : (
          <Words tone="soft">
            {`${capital(sayBasis(row.basis))}${row.said ? `, said on ${row.said.on} by ${row.said.by}` : ''}.`}
          </Words>
        )}
        <Words>
          {row.callBack
            ? `Shows ${showNumber(row.callBack)}, to be called back.`
            : 'There is no number to call back.'}
        </Words>
        <Words>{row.trunk ? `Leaves by ${row.trunk}.` : 'No trunk carries it.'}</Words>
        {row.faults.map((fault) => (
          <Words key={fault} tone="rust" strong>
            {`${sayPlaceFault(fault)}.`}
          </Words>
        ))}
        <LinkRows>
          <LinkRow
            title={row.name}
            text="Phones and places of this person"
            href={`/people/${encodeURIComponent(row.person)}`}
          />
          {row.site ? (
            <LinkRow
              title={row.siteName ?? row.site}
              text="Address, networks and trunk of the site"
              href={`/sites/${encodeURIComponent(row.site)}`}
            />
          ) : null}
        </LinkRows>
      </Section>
      {canTry ? <TryPart endpoint={row.endpoint} hasPlace={row.place !== null} /> : null}
    </PageFrame>
  );
}

function TryPart({ endpoint, hasPlace }: { readonly endpoint: string; readonly hasPlace: boolean }) {
  const tried = useTryEmergency(endpoint);
  const file = () => void fetchFile(`/api/safety/${encodeURIComponent(endpoint)}/location`, 'location.xml');
  return (
    <Section title="Try it">
      <Words tone="soft">
        The simulated phone dials. The call goes to the emergency desk of the simulated carrier and nowhere
        else; the desk then calls back.
      </Words>
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
        <Button
          kind="main"
          label="Try an emergency call"
          busy={tried.isPending}
          onPress={() => tried.mutate()}
        />
        {hasPlace ? <Button kind="quiet" label="Export as PIDF-LO" onPress={file} /> : null}
      </View>
      <Refused error={tried.error} />
      {tried.data ? <DeskView seen={tried.data} /> : null}
    </Section>
  );
}

/** What the emergency desk sees. */
function DeskView({ seen: { arrived, rang, rangThis } }: { readonly seen: EmergencyTry }) {
  const palette = usePalette();
  if (!arrived)
    return (
      <Words tone="rust" strong live>
        The call did not arrive at the emergency desk.
      </Words>
    );
  const lines: readonly (readonly [string, string, boolean])[] = [
    ['Dialled', arrived.number, true],
    ['Place', arrived.place ?? arrived.fault ?? 'None came with the call', arrived.place !== null],
    [
      'Number to call back',
      arrived.callerId ? showNumber(arrived.callerId) : 'Withheld',
      arrived.callerId !== null,
    ],
    [
      'The call back rang',
      rang === null
        ? 'Nothing: there was no number'
        : rang.length === 0
          ? 'No phone'
          : rang.map(({ says }) => says).join(', '),
      rangThis,
    ],
  ];
  return (
    <View
      role="region"
      aria-label="The emergency desk"
      style={{
        borderWidth: 1,
        borderColor: palette.ink,
        backgroundColor: palette.sheet,
        padding: space(3),
        gap: space(2),
        maxWidth: 640,
      }}
    >
      <Words strong>The emergency desk sees</Words>
      {lines.map(([what, says, isRight]) => (
        <View key={what}>
          <Words size="small" tone="soft">
            {what}
          </Words>
          <Words live tone={isRight ? 'ink' : 'rust'} strong={!isRight}>
            {says}
          </Words>
        </View>
      ))}
      {rangThis ? null : <Words tone="rust">A call back does not ring the phone that called for help.</Words>}
    </View>
  );
}
