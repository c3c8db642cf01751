import { View } from 'react-native';
import { messageOf } from '../hooks/api';
import { useDialling, type DiallingPage } from '../hooks/routing';
import { useIsWide } from '../theme';
import { PageFrame } from '../components/PageFrame';
import { Skeleton, Trouble } from '../components/parts';
import { DialPlan } from '../components/dialling/DialPlan';
import { Permissions } from '../components/dialling/Permissions';
import { Trunks } from '../components/dialling/Trunks';

/** How numbers are dialled, who may dial what, and by which trunk it leaves. */
export function DiallingScreen() {
  const page = useDialling();
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (page.isPending) return <Skeleton />;
  return <DiallingView page={page.data} />;
}

function DiallingView({ page }: { page: DiallingPage }) {
  const wide = useIsWide();
  return (
    <PageFrame title="Dialling" back={{ path: '/routes', label: 'Back to Routes' }}>
      <View style={{ flexDirection: wide ? 'row' : 'column' }}>
        <View style={wide ? { flex: 1 } : {}}>
          <DialPlan page={page} />
          <Trunks trunks={page.trunks} />
        </View>
        <View style={wide ? { flex: 1 } : {}}>
          <Permissions page={page} />
        </View>
      </View>
    </PageFrame>
  );
}
