import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answer, api, type Schemas } from '../core/client';
import { useDocument } from './store';

/** The links of the open project, and how one is made and revoked. */
export function useLinks() {
  const queries = useQueryClient();
  const id = useDocument((state) => state.id);
  const path = { id };
  const links = useQuery({
    queryKey: ['links', id],
    queryFn: async () => answer(await api.GET('/api/projects/{id}/shares', { params: { path } })),
  });
  const refresh = { onSuccess: () => queries.invalidateQueries({ queryKey: ['links', id] }) };
  const make = useMutation({
    mutationFn: async (body: Schemas['ShareRequest']) =>
      answer(await api.POST('/api/projects/{id}/shares', { params: { path }, body })),
    ...refresh,
  });
  const revoke = useMutation({
    mutationFn: async (token: string) =>
      answer(await api.DELETE('/api/shares/{token}', { params: { path: { token } } })),
    ...refresh,
  });
  const working = links.data?.filter((link) => !link.revoked_at) ?? [];
  return { working, make, revoke, failure: links.error ?? make.error ?? revoke.error };
}

/** Where the content of a link is. */
export function addressOf(token: string): string {
  return `${window.location.origin}/s/${token}`;
}

/** How the sheet at a live address is written. */
export interface SheetForm {
  style: Schemas['Style'];
  /** The cascade layer it is in; none where it is empty. */
  layer: string;
}

/** The line by which a page loads the sheet of a link. */
export function linkLine(token: string, { style, layer }: SheetForm): string {
  const asked = new URLSearchParams();
  if (style !== 'living') asked.set('style', style);
  if (layer) asked.set('layer', layer);
  const query = asked.size > 0 ? `?${asked}`.replaceAll('&', '&amp;') : '';
  return `<link rel="stylesheet" href="${addressOf(token)}/depth.css${query}">`;
}

/**
 * The line by which a page loads that sheet again whenever something was saved. The sheet before stays until the new one is there,
 * so that nothing is without its depth meanwhile.
 */
export function reloadLine(token: string): string {
  const base = addressOf(token);
  const script = `new EventSource("${base}/events").onmessage = ({ data }) => { \
const all = [...document.querySelectorAll('link[href^="${base}/depth.css"]')], next = all.at(-1).cloneNode(); \
const to = new URL(next.href); to.searchParams.set("revision", data); next.href = to; \
next.onload = () => all.forEach((old) => old.remove()); all.at(-1).after(next); }`;
  return `<script>${script}</script>`;
}
