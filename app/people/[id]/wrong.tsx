import { Redirect, useLocalSearchParams } from 'expo-router';

/** Where the page stood before. */
export default function Wrong() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <Redirect href={`/people/${encodeURIComponent(id)}/troubleshoot`} />;
}
