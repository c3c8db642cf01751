import { useNights } from '../data/calls';
import { LinkRow, LinkRows, Section } from '../kit/parts';

/** What the calls say that somebody should see: those of the last days that went otherwise, and signs of more. */
export function CallsPart() {
  const nights = useNights();
  const latest = nights.data?.nights.slice(0, SHOWN_DAYS) ?? [];
  const odd = latest.filter(({ otherwise }) => otherwise > 0);
  const signs = latest[0]?.signs ?? [];
  if (odd.length === 0 && signs.length === 0) return null;
  const calls = odd.reduce((sum, { otherwise }) => sum + otherwise, 0);
  const [reason] = odd.flatMap(({ reasons }) => reasons);
  return (
    <Section title="From the calls">
      <LinkRows>
        {calls > 0 ? (
          <LinkRow
            title={`${calls} ${calls === 1 ? 'call' : 'calls'} of the last ${SHOWN_DAYS} days did not go as planned`}
            {...(reason ? { text: `${reason.says.charAt(0).toUpperCase()}${reason.says.slice(1)}` } : {})}
            href="/calls/nights"
          />
        ) : null}
        {signs.map(({ says, href }) => (
          <LinkRow key={says} title={says} href={href} />
        ))}
      </LinkRows>
    </Section>
  );
}
const SHOWN_DAYS = 10;
