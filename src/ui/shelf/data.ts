'use client';
/** The shelf's projects, and what can be done with them. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, ServerError, type ShelfEntry } from '../parts/api';
import { handOver } from '../parts/handover';

const KEY = ['projects'];
const MOST = 512 * 1048576;

export const useProjects = () =>
  useQuery({ queryKey: KEY, queryFn: async () => (await api<{ projects: ShelfEntry[] }>('/api/projects')).projects });

/** Does something on the server, and looks at the shelf again. */
export function useAct() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (work: () => Promise<unknown>) => work(),
    onSettled: () => client.invalidateQueries({ queryKey: KEY }),
  });
}

export const binProject = (id: string) => () => api(`/api/projects/${id}/bin`, { method: 'POST' });
export const restoreProject = (id: string) => () => api(`/api/projects/${id}/bin`, { method: 'DELETE' });
export const removeProject = (id: string) => () => api(`/api/projects/${id}`, { method: 'DELETE' });
export const copyProject = (id: string) => () => api(`/api/projects/${id}/copy`, { json: {} });

export interface NewProject {
  name: string;
  purpose: string;
  units: string;
}
export const makeProject = (p: NewProject) => api<ShelfEntry>('/api/projects', { json: p });

export async function importProject(file: File): Promise<ShelfEntry> {
  if (file.size > MOST) throw new Error(`${file.name} is larger than 512 MB, the most that can be brought in.`);
  const headers = { 'Content-Type': 'application/octet-stream' };
  try {
    return await api<ShelfEntry>('/api/projects/import', { body: file, headers });
  } catch (e) {
    if (e instanceof ServerError) throw new ServerError(e.status, `${file.name}: ${e.message}`, e.details);
    throw new Error(`${file.name}: ${(e as Error).message}`);
  }
}

/**
 * What was dropped on the shelf: an exported project is put on it; anything else begins a project of that name, with
 * the files brought in on its bench. Answers the project to open, if one was begun.
 */
export async function takeDropped(files: File[]): Promise<string | null> {
  if (files.length === 1 && /\.(zip|json)$/i.test(files[0].name)) {
    try {
      await importProject(files[0]);
      return null;
    } catch (e) {
      // A ZIP that is no project of ours may hold models.
      const models = e instanceof ServerError && e.status === 422 && /\.zip$/i.test(files[0].name);
      if (!models) throw e;
    }
  }
  const name = files[0].name.replace(/\.[^.]*$/, '').slice(0, 200) || 'New project';
  const made = await makeProject({ name, purpose: 'render', units: 'mm' });
  handOver(files);
  return made.id;
}
