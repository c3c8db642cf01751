import { useMutation, useQuery } from '@tanstack/react-query';
import type { Template } from '../../core/estate';
import { api } from './api';
import { queryClient } from './data';
import type { TemplateSummary, Followers, TemplatePreview } from '../../api/templates';

const path = (id: string) => `/api/templates/${encodeURIComponent(id)}`;
const changed = () => queryClient.invalidateQueries();

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

export const useTemplatePreview = (id: string) =>
  useMutation({
    mutationFn: (people: readonly string[]) =>
      api<{ rows: readonly TemplatePreview[] }>('POST', `${path(id)}/preview`, { people }),
  });

export const useApplyTemplate = (id: string) =>
  useMutation({
    mutationFn: (people: readonly { id: string; version: number }[]) =>
      api<{ changed: number; entries: readonly number[] }>('PUT', `${path(id)}/people`, { people }),
    onSuccess: changed,
  });

/** Takes changes back by their entries in the record. */
export const useTakeBack = () =>
  useMutation({
    mutationFn: (entries: readonly number[]) =>
      api<{ people: number }>('POST', '/api/record/undo', { entries }),
    onSuccess: changed,
  });
