import { DateTime } from 'luxon';
import { View } from 'react-native';
import type { NightRow } from '../../api/records';
import { messageOf } from '../data/api';
import { useNights } from '../data/calls';
import { PageFrame } from '../kit/PageFrame';
import { Empty, Section, Skeleton, Trouble } from '../kit/parts';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import { CallPages } from './CallPages';
import { sayShare } from './words';

const sayDay = (day: string): string => DateTime.fromISO(day).setLocale('en').toFormat('cccc d LLLL');

/** Each day’s calls beside what the plans of then make of them. */
export function NightsScreen() {
  const nights = useNights();
  return (
    <PageFrame
      title="As planned?"
      text="Every night the calls of the day are laid beside the plans of then"
      back={{ path: '/calls', label: 'Back to the calls' }}
    >
      <CallPages path="/calls/nights" />
      {nights.isError ? (
        <Trouble message={messageOf(nights.error)} retry={() => void nights.refetch()} />
      ) : nights.isPending ? (
        <Skeleton />
      ) : nights.data.nights.length === 0 ? (
        <Empty
          title="No day is over yet"
          text="The calls of a day are looked through in the night after it."
        />
      ) : (
        <NightsView nights={nights.data.nights} />
      )}
    </PageFrame>
  );
}

function NightsView({ nights }: { readonly nights: readonly NightRow[] }) {
  const palette = usePalette();
  const odd = nights.filter(({ otherwise }) => otherwise > 0);
  const calls = nights.reduce((sum, night) => sum + night.calls, 0);
  const otherwise = nights.reduce((sum, night) => sum + night.otherwise, 0);
  return (
    <>
      <Section>
        <Words strong size="lead" tone={otherwise > 0 ? 'rust' : 'kelp'}>
          {otherwise === 0
            ? `All ${calls.toLocaleString('en')} calls of ${nights.length} days went as planned.`
            : `${otherwise} of ${calls.toLocaleString('en')} calls of ${nights.length} days did not go as planned.`}
        </Words>
      </Section>
      {odd.map((night) => (
        <View key={night.day} style={{ borderTopWidth: 1, borderColor: palette.line }}>
          <Section title={`${sayDay(night.day)}: ${night.otherwise} of ${night.calls} calls`}>
            {night.reasons.map(({ says, calls: count }) => (
              <Words key={says} strong>
                {`${says.charAt(0).toUpperCase()}${says.slice(1)}: ${count} ${count === 1 ? 'call' : 'calls'}.`}
              </Words>
            ))}
            {night.patterns.length > 0 ? (
              <>
                <Words tone="soft">What these calls have in common, more than chance would have it:</Words>
                <View role="list" style={{ gap: space(1) }}>
                  {night.patterns.map((pattern) => (
                    <View role="listitem" key={`${pattern.kind}/${pattern.id}`}>
                      <Words>
                        {`${pattern.name} (${pattern.kind}): ${pattern.withIt.odd} of ${pattern.withIt.all} calls with it, ${sayShare(
                          pattern.without.odd / Math.max(1, pattern.without.all),
                        )} of those without.`}
                      </Words>
                    </View>
                  ))}
                </View>
              </>
            ) : (
              <Words tone="soft">They have nothing in common that chance would not explain.</Words>
            )}
          </Section>
        </View>
      ))}
    </>
  );
}
