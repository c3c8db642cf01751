import { Empty } from '../../ui/components/parts';
import { PeopleList } from '../../ui/screens/PeopleList';
import { useIsWide } from '../../ui/theme';

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
