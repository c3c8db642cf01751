import { PeopleList } from '../../ui/people/PeopleList';
import { useIsWide } from '../../ui/kit/theme';
import { usePageTitle } from '../../ui/kit/usePageTitle';

export default function People() {
  usePageTitle('People');
  return <PeopleList asTable={useIsWide()} />;
}
