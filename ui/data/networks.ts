import { useQuery } from '@tanstack/react-query';
import type { NetworksPage } from '../../api/networks';
import { api } from './api';

const PATH = '/api/networks';

/** Sites, servers and phones, from which ways through networks are computed. */
export const useNetworks = () =>
  useQuery({ queryKey: [PATH], queryFn: () => api<NetworksPage>('GET', PATH) });
