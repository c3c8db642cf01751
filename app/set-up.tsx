import { Redirect } from 'expo-router';

/** Where the page stood before. */
export default function SetUp() {
  return <Redirect href="/provisioning" />;
}
