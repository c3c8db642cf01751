import type { RoundPage } from '../../api/rounds';
import { usePutRound } from '../data/rounds';
import { Refused, Section } from '../kit/parts';
import { Words } from '../kit/Words';
import { RecordingHeard, RecordingPick } from './RecordingPick';

/** What is played to those called. */
export function RecordingPart({ page, canEdit }: { readonly page: RoundPage; readonly canEdit: boolean }) {
  const put = usePutRound(page.id);
  const { recording, plan, version } = page;
  return (
    <Section title="Recording">
      {recording ? <RecordingHeard recording={recording} /> : <Words>None is chosen yet.</Words>}
      <Words tone="soft">
        {`Say at its end: “Press 1 if you have heard this. Press 9 if you never want to be called again.”${
          page.keys.length > 0
            ? ` Say also what ${page.keys.length === 1 ? 'key' : 'keys'} ${page.keys.map(({ key }) => key).join(', ')} ${page.keys.length === 1 ? 'plays' : 'play'}.`
            : ''
        }`}
      </Words>
      {canEdit ? (
        <>
          <RecordingPick
            value={recording?.id ?? null}
            onChange={(id) => put.mutate({ version, plan: { ...plan, recording: id } })}
          />
          <Refused error={put.error} />
        </>
      ) : null}
    </Section>
  );
}
