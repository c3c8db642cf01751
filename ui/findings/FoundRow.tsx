import type { CheckWords, Finding } from '../../api/findings';
import { useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import { showNumbersIn } from '../../core/calls/dialling';
import { mendEntries } from '../data/findings';
import { useCanEdit, useRole } from '../data/session';
import { space, usePalette } from '../kit/theme';
import { MarkedItem } from '../kit/Marked';
import { Button } from '../kit/parts';
import { ToSlate } from '../edit/ToSlate';
import { pageOf, pageOfSetting } from '../edit/places';
import { Words } from '../kit/Words';
import { MarkSheet } from './MarkSheet';

export const WEIGHTS = { fault: 'Fault', risk: 'Risk', note: 'Note' } as const;
export const TONES = { fault: 'rust', risk: 'ochre', note: 'soft' } as const;

/** What a finding says, why it matters, what shows it, and what can be done about it. */
export function FoundRow({
  finding,
  check,
  named = true,
  atOnce = false,
}: {
  readonly finding: Finding;
  readonly check: CheckWords | undefined;
  /** Whether it says whom it is about; not on that one's own page. */
  readonly named?: boolean;
  /** Whether it says why from the beginning. */
  readonly atOnce?: boolean;
}) {
  const palette = usePalette();
  const router = useRouter();
  const canEdit = useCanEdit();
  const role = useRole();
  const [more, setMore] = useState(atOnce);
  const [marking, setMarking] = useState(false);
  const { subject, mark, mend } = finding;
  return (
    <MarkedItem color={{ fault: palette.rust, risk: palette.rings, note: palette.line }[finding.weight]}>
      <Words size="small" strong tone={TONES[finding.weight]}>
        {`${WEIGHTS[finding.weight]}: ${check?.title ?? finding.check}`}
      </Words>
      <Words>
        {named ? <Words strong>{`${subject.name}. `}</Words> : null}
        {showNumbersIn(finding.says)}
      </Words>
      {mark ? (
        <Words size="small" tone="soft">
          {[
            mark.assignee ? `assigned to ${mark.assignee}` : '',
            mark.putOffUntil ? `put off until ${mark.putOffUntil}` : '',
            mark.acceptedWhy ? `accepted: ${mark.acceptedWhy}` : '',
          ]
            .filter(Boolean)
            .join(', ')}
        </Words>
      ) : null}
      {more ? (
        <View style={{ gap: space(1) }}>
          {check ? <Words size="small">{check.why}</Words> : null}
          {(finding.evidence ?? []).map(({ text, setting }) => {
            const page = setting ? pageOfSetting(setting) : null;
            return page && named ? (
              <Button
                key={`${text}${setting}`}
                kind="quiet"
                label={showNumbersIn(text)}
                onPress={() => router.navigate(page)}
              />
            ) : (
              <Words key={`${text}${setting}`} size="small" tone="soft">
                {showNumbersIn(text)}
              </Words>
            );
          })}
          {check ? (
            <Words size="small" tone="soft">
              {`Looked for: ${check.looksFor}`}
            </Words>
          ) : null}
        </View>
      ) : null}
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(1), alignItems: 'flex-start' }}>
        {mend && canEdit ? (
          <ToSlate kind="plain" label={mend} entries={() => mendEntries(finding.key)} />
        ) : null}
        {named && subject.kind !== 'organisation' ? (
          <Button
            kind="quiet"
            label="Open"
            onPress={() => router.navigate(pageOf(subject.kind, subject.id))}
          />
        ) : null}
        {role !== 'manager' ? <Button kind="quiet" label="Assign" onPress={() => setMarking(true)} /> : null}
        <Button kind="quiet" label={more ? 'Less' : 'Why'} onPress={() => setMore(!more)} />
      </View>
      {marking ? <MarkSheet finding={finding} onClose={() => setMarking(false)} /> : null}
    </MarkedItem>
  );
}
