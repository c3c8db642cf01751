import type { DiallingPage } from '../../api/routing';
import { View } from 'react-native';
import { messageOf } from '../data/api';
import { useDialling } from '../data/routing';
import { useIsWide } from '../kit/theme';
import { PageFrame } from '../kit/PageFrame';
import { Skeleton, Trouble } from '../kit/parts';
import { DialPlan } from './DialPlan';
import { Permissions } from './Permissions';
import { Trunks } from './Trunks';

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
    <PageFrame title="Dialling" back={null}>
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
