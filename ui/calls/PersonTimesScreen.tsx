import { messageOf } from '../data/api';
import { usePersonPage } from '../data/data';
import { Skeleton, Trouble } from '../kit/parts';
import { TimesScreen } from './TimesScreen';

/** How soon one person’s phones are answered. */
export function PersonTimesScreen({ id }: { readonly id: string }) {
  const page = usePersonPage(id);
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (page.isPending) return <Skeleton />;
  return <TimesScreen person={id} name={page.data.person.name} />;
}
