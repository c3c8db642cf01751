import { Empty } from '../../ui/kit/parts';
import { PeopleList } from '../../ui/people/PeopleList';
import { useIsWide } from '../../ui/kit/theme';

export default function People() {
  const wide = useIsWide();
  if (!wide) return <PeopleList />;
  return (
    <Empty
      title="Choose a person"
      text="The list is at the left: search by name, extension or any form of a number (key /)."
    />
  );
}
