import { useQuery } from '@tanstack/react-query';
import type { Template } from '../../core/estate';
import { api } from './api';
import type { TemplateSummary, Followers } from '../../api/templates';

const path = (id: string) => `/api/templates/${encodeURIComponent(id)}`;

export const useTemplates = () =>
  useQuery({
    queryKey: ['/api/templates'],
    queryFn: () => api<{ templates: readonly TemplateSummary[] }>('GET', '/api/templates'),
  });

export const useTemplatePlans = (enabled: boolean) =>
  useQuery({
    queryKey: ['/api/objects/template'],
    queryFn: () => api<{ objects: readonly Template[] }>('GET', '/api/objects/template'),
    enabled,
  });

export const useFollowers = (id: string) =>
  useQuery({
    queryKey: [`${path(id)}/people`],
    queryFn: () => api<Followers>('GET', `${path(id)}/people`),
  });
