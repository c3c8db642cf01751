import { useMemo } from 'react';
import { View } from 'react-native';
import { DateTime } from 'luxon';
import type { PersonPage } from '../../api/people';
import { compileEstate } from '../../core/calls/engine';
import { promiseNames, promisesFor, sayPromise } from '../../core/assurance/promises';
import { personSetUp, type SetUpPart } from '../../core/changes/set-up';
import { messageOf } from '../data/api';
import { usePersonPage } from '../data/data';
import { useZone } from '../data/session';
import { Button, Section, Skeleton, Trouble } from '../kit/parts';
import { PageFrame } from '../kit/PageFrame';
import { space, useIsWide } from '../kit/theme';
import { Words } from '../kit/Words';
import { PdfButton } from '../phones/PdfButton';

/** A person’s whole set-up on one page, to be read, printed or kept as a file. */
export function SetUpScreen({ id }: { readonly id: string }) {
  const page = usePersonPage(id);
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (page.isPending) return <Skeleton />;
  return <SetUp page={page.data} />;
}

function SetUp({ page: { person, slice, signedOn } }: { readonly page: PersonPage }) {
  const zone = useZone();
  const wide = useIsWide();
  const parts = useMemo((): readonly SetUpPart[] => {
    const index = compileEstate(slice);
    const promises = promisesFor(slice.promises, person.id).map(({ promise }) =>
      sayPromise(promise, promiseNames(index)),
    );
    const desk = signedOn[person.id];
    return [
      ...personSetUp(index, person),
      ...(desk ? [{ title: 'Shared desk', lines: [`Signed on at ${desk.desk}.`] }] : []),
      ...(promises.length > 0 ? [{ title: 'Promises', lines: promises }] : []),
    ];
  }, [person, slice, signedOn]);
  const title = `Set-up of ${person.name}`;
  const note = `As it is live on ${DateTime.now().setZone(zone).toFormat('d LLLL yyyy, HH:mm')}.`;
  const actions = (
    <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
      <Button label="Print" onPress={() => window.print()} />
      <PdfButton name={`set-up-${person.id}.pdf`} sheet={{ title, note, steps: [], parts }} />
    </View>
  );
  return (
    <PageFrame
      title={title}
      text={note}
      back={{ path: `/people/${encodeURIComponent(person.id)}`, label: person.name }}
      aside={wide ? actions : null}
    >
      {wide ? null : <Section>{actions}</Section>}
      {parts.map((part) => (
        <Section key={part.title} title={part.title}>
          {part.lines.map((line, i) => (
            <Words key={i}>{line}</Words>
          ))}
        </Section>
      ))}
    </PageFrame>
  );
}
