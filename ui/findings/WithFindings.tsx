import { useRef, type ReactNode } from 'react';
import { View } from 'react-native';
import { useOpenFindings } from '../data/findings';
import { Button } from '../kit/parts';
import { space, TARGET } from '../kit/theme';
import { Words } from '../kit/Words';
import { FindingsPart } from './FindingsPart';
import { WEIGHTS } from './FoundRow';

/**
 * What is on a page, with what was found of its subject: how much, in a line above that has its place from the
 * beginning, so that nothing moves under the finger when it comes; what, below.
 */
export function WithFindings({
  subject,
  children,
}: {
  readonly subject: string;
  readonly children: ReactNode;
}) {
  const { open, isPending, isError } = useOpenFindings(subject);
  const part = useRef<View>(null);
  const show = () => (part.current as unknown as HTMLElement | null)?.scrollIntoView({ block: 'start' });
  // They come the worst first.
  const worst = open[0]?.weight;
  return (
    <>
      <View
        style={{
          minHeight: TARGET,
          // A button has an edge of its own.
          paddingHorizontal: space(worst ? 2 : 4),
          flexDirection: 'row',
          alignItems: 'center',
        }}
      >
        {worst ? (
          <Button
            kind="quiet"
            label={
              open.length === 1
                ? `1 finding: ${WEIGHTS[worst].toLowerCase()}`
                : `${open.length} findings, the worst: ${WEIGHTS[worst].toLowerCase()}`
            }
            onPress={show}
          />
        ) : (
          <Words size="small" tone="soft">
            {isPending
              ? 'Looking for findings …'
              : isError
                ? 'What was found is not known now.'
                : 'No open findings'}
          </Words>
        )}
      </View>
      {children}
      <View ref={part}>
        <FindingsPart subject={subject} />
      </View>
    </>
  );
}
