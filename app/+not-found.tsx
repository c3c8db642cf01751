import { usePathname } from 'expo-router';
import { LinkRow, LinkRows, Section } from '../ui/kit/parts';
import { PageFrame } from '../ui/kit/PageFrame';
import { Words } from '../ui/kit/Words';

/** An address that is none of ours: said so, with the ways back. */
export default function NotFound() {
  const path = usePathname();
  return (
    <PageFrame title="No such page" back={null}>
      <Section>
        <Words>{`There is nothing at ${path}. It may have been removed, or the address may be cut short.`}</Words>
        <LinkRows>
          <LinkRow title="Today" text="Who is not reached, and what waits to be done" href="/today" />
          <LinkRow title="People" text="Search by name, extension or number" href="/people" />
        </LinkRows>
      </Section>
    </PageFrame>
  );
}
