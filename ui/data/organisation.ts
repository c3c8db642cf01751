import { useMutation, useQuery } from '@tanstack/react-query';
import type { EstatePreview, OrganisationPage } from '../../api/organisation';
import type { OrganisationBeginning } from '../../core/editing';
import { api } from './api';
import { queryClient } from './data';

const PATH = '/api/organisation';
const all = () => void queryClient.invalidateQueries();

export const useOrganisation = () =>
  useQuery({ queryKey: [PATH], queryFn: () => api<OrganisationPage>('GET', PATH) });

interface NameAndZone {
  readonly name: string;
  readonly timeZone: string;
}
/** Sets what the organisation is called, and its zone. */
export const useSetOrganisation = () =>
  useMutation({
    mutationFn: (body: NameAndZone & { readonly before: NameAndZone }) =>
      api<OrganisationPage>('PUT', PATH, body),
    onSuccess: all,
  });

export const useBegin = () =>
  useMutation({
    mutationFn: (given: OrganisationBeginning) => api<OrganisationPage>('POST', `${PATH}/begin`, given),
    onSuccess: all,
  });

/** What an estate file would change; nothing is written. */
export const usePreviewEstate = () =>
  useMutation({
    mutationFn: (bytes: ArrayBuffer) => api<EstatePreview>('POST', '/api/estate/preview', bytes),
  });

/** Puts what a file changes on a slate; null: the organisation was empty, and it is live. */
export const useImportEstate = () =>
  useMutation({
    mutationFn: (bytes: ArrayBuffer) =>
      api<{ readonly slate: number | null }>('POST', '/api/estate/import', bytes),
    onSuccess: all,
  });
