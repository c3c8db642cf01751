import { View } from 'react-native';
import type { Site } from '../../core/estate';
import { lineAdvice, lineWords, qualityOfLine } from '../../core/quality';
import { Button, Section } from '../kit/parts';
import { Words } from '../kit/Words';
import { dayOf } from '../lines/words';

/** The measured line that counts for a site: by it a plan decides whether its apps ring. */
export function SiteLinePart({
  site,
  onEdit,
}: {
  readonly site: Site;
  readonly onEdit: ((change: (before: Site) => Site) => void) | null;
}) {
  const { line } = site;
  if (!line) return null;
  const { mos } = qualityOfLine(line);
  return (
    <Section title="Measured line of this site">
      <Words strong>{`MOS ${mos.toFixed(2)}, measured on ${dayOf(line.at)}`}</Words>
      <Words>{lineWords[lineAdvice(mos)]}</Words>
      <Words size="small" tone="soft">
        {`Delay ${line.delayMs} ms, jitter ${line.jitterMs} ms, loss ${line.lossPercent} %${
          line.burst === undefined ? '' : `, ${line.burst} at a time`
        }. Plans that ring an app only over a good line go by this.`}
      </Words>
      {onEdit ? (
        <View style={{ flexDirection: 'row' }}>
          <Button
            kind="quiet"
            label="Use no measured line"
            onPress={() => onEdit(({ line: _line, ...before }) => before)}
          />
        </View>
      ) : null}
    </Section>
  );
}
