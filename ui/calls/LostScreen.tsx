import { useState } from 'react';
import type { LostPage } from '../../api/records';
import { messageOf } from '../data/api';
import { useLost } from '../data/calls';
import { PageFrame } from '../kit/PageFrame';
import { Empty, LinkRow, LinkRows, Section, Skeleton, Trouble } from '../kit/parts';
import { Words } from '../kit/Words';
import { CallPages } from './CallPages';
import { DaysChoice, Figures, HourRows, type Days } from './parts';
import { sayBand, sayOutcome, sayShare } from './words';

/** Calls that nobody of the organisation got: how many, of whom, when, and whether it gets better. */
export function LostScreen() {
  const [days, setDays] = useState<Days>(28);
  const lost = useLost(days);
  return (
    <PageFrame
      title="Lost calls"
      text="Calls that ended with nobody here"
      back={{ path: '/calls', label: 'Back to the calls' }}
    >
      <CallPages path="/calls/lost" />
      <Section>
        <DaysChoice days={days} onDays={setDays} />
      </Section>
      {lost.isError ? (
        <Trouble message={messageOf(lost.error)} retry={() => void lost.refetch()} />
      ) : lost.isPending ? (
        <Skeleton />
      ) : lost.data.weeks.length === 0 ? (
        <Empty title="No calls yet" text="Calls are counted from the first one on." />
      ) : (
        <LostView page={lost.data} />
      )}
    </PageFrame>
  );
}

function LostView({ page }: { readonly page: LostPage }) {
  const { weeks, kinds, people, hours, rules, daysLooked } = page;
  const [calls, lost] = [
    weeks.reduce((sum, week) => sum + week.calls, 0),
    weeks.reduce((sum, week) => sum + week.lost, 0),
  ];
  const worst = Math.max(...hours.map((hour) => (hour.calls > 0 ? hour.lost / hour.calls : 0)), 0.01);
  return (
    <>
      <Section
        title={`${lost.toLocaleString('en')} of ${calls.toLocaleString('en')} calls were lost: ${sayShare(lost / Math.max(1, calls))}`}
      >
        <Words>{kinds.map((kind) => `${sayOutcome(kind.outcome)} ${kind.calls}`).join(', ')}.</Words>
      </Section>
      <Section title="By week">
        <Figures
          label="Lost calls by week"
          headings={['Week from', 'Calls', 'Lost', 'Share', 'Likely']}
          rows={weeks.map((week) => [
            week.from,
            String(week.calls),
            String(week.lost),
            sayShare(week.lost / Math.max(1, week.calls)),
            sayBand(week.low, week.high),
          ])}
          first={1.4}
        />
      </Section>
      <Section title="By who was called">
        <LinkRows>
          {people.map((each) => {
            const text = `${each.lost} of ${each.calls} calls lost: ${sayShare(each.lost / each.calls)}`;
            return (
              <LinkRow
                key={each.to}
                title={each.name}
                text={text}
                href={
                  each.person
                    ? `/people/${encodeURIComponent(each.person)}`
                    : `/numbers/${encodeURIComponent(each.to)}`
                }
              />
            );
          })}
        </LinkRows>
      </Section>
      <Section title="By rule">
        {rules.length === 0 ? (
          <Empty
            title="No rule yet"
            text="Each night the calls of the day are laid beside the plans: after that it is known which rule had them."
          />
        ) : (
          <>
            <Words tone="soft">
              {`The rule that had the call last, by the plan of then. ${daysLooked === 1 ? 'One day was' : `${daysLooked} days were`} looked through.`}
            </Words>
            <LinkRows>
              {rules.map((each) => (
                <LinkRow
                  key={`${each.person} ${each.rule ?? ''}`}
                  title={`${each.name}: ${each.ruleName}`}
                  text={`${each.lost} of ${each.calls} calls lost: ${sayShare(each.lost / each.calls)}`}
                  href={`/people/${encodeURIComponent(each.person)}`}
                />
              ))}
            </LinkRows>
          </>
        )}
      </Section>
      <Section title="By hour of the day">
        <HourRows
          label="Lost calls by hour"
          tone="rust"
          rows={hours
            .filter((hour) => hour.calls > 0)
            .map(({ hour, lost, calls }) => ({
              hour,
              share: lost / calls / worst,
              says: `${lost} of ${calls}`,
            }))}
        />
      </Section>
    </>
  );
}
