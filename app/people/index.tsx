import { Empty } from '../../ui/kit/parts';
import { PeopleList } from '../../ui/people/PeopleList';
import { useIsWide } from '../../ui/kit/theme';
import { usePageTitle } from '../../ui/kit/usePageTitle';

export default function People() {
  const wide = useIsWide();
  usePageTitle('People');
  if (!wide) return <PeopleList />;
  return (
    <Empty
      heading
      title="Choose a person"
      text="The list is at the left: search by name, extension or any form of a number (key /)."
    />
  );
}
