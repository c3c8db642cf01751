import { useServerPage } from '../data/server';
import { AlertRows } from '../organisation/RunningScreen';
import { Section } from '../kit/parts';

/** What is wrong with the servers themselves; nothing where nothing is. */
export function AlertsPart() {
  const { data } = useServerPage();
  if (!data || data.alerts.length === 0) return null;
  return (
    <Section title="Servers">
      <AlertRows alerts={data.alerts} none="" />
    </Section>
  );
}
