import { keepPreviousData, useInfiniteQuery, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { App } from 'antd';
import { api, asItIs, body, Refusal, type Schemas, UNREACHED } from './client';
import type { paths } from './schema';
import { mayHaveChanged, PREVIEW, type Topic } from './topics';

/** What a change may touch is asked for again; without topics everything. */
export function useRefresh() {
  const queries = useQueryClient();
  return (topics?: readonly Topic[]) => queries.invalidateQueries({ predicate: (query) => mayHaveChanged(query.queryKey, topics) });
}

/** A preview is of the moment at which it was asked for, and forgotten with what was worded. */
const OF_ITS_MOMENT = {
  // One that could not be asked for is.
  refetchInterval: (query: { state: { error: Error | null } }) =>
    query.state.error instanceof Refusal && query.state.error.status === UNREACHED ? 3_000 : (false as const),
  staleTime: Number.POSITIVE_INFINITY,
  gcTime: 0,
  placeholderData: keepPreviousData,
};

export function useSession() {
  return useQuery({ queryKey: ['session'], queryFn: () => body(api.GET('/api/sessions/current')), refetchInterval: 60_000 });
}

export function useClock() {
  return useQuery({ queryKey: ['clock'], queryFn: () => body(api.GET('/api/clock')) });
}

/** True for roles that see every place; service desk and operators see who carries what. */
export function readsEverything(role: Schemas['Session']['role']): boolean {
  return role !== undefined && role !== 'DESK' && role !== 'OPERATOR';
}

export type DocketAsked = NonNullable<paths['/api/docket']['get']['parameters']['query']>;

/** Cases, page by page; by default those that need judgement. */
export function useDocket(asked: DocketAsked = { show: 'OPEN' }, enabled = true) {
  return useInfiniteQuery({
    queryKey: ['docket', asked],
    queryFn: ({ pageParam }) => body(api.GET('/api/docket', { params: { query: { ...asked, after: pageParam } } })),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (page) => page.next,
    placeholderData: keepPreviousData,
    enabled,
  });
}

/** Who can be asked to see to something. */
export function usePeople() {
  return useQuery({ queryKey: ['people'], queryFn: () => body(api.GET('/api/people')) });
}

export function useWeights() {
  return useQuery({ queryKey: ['weights'], queryFn: () => body(api.GET('/api/weights')) });
}

/** What other weights would do to the present docket. */
export function useWeightsPreview(weights: Schemas['Weights'] | undefined, version: string) {
  return useQuery({
    queryKey: [PREVIEW, 'weights', weights, version],
    queryFn: () => body(api.POST('/api/weights/preview', { body: weights as Schemas['Weights'] })),
    enabled: weights !== undefined,
    ...OF_ITS_MOMENT,
    retry: false,
  });
}

export function useCase(id: string) {
  return useQuery({
    queryKey: ['case', id],
    queryFn: () => body(api.GET('/api/cases/{id}', { params: { path: { id } } })),
    placeholderData: (before) => (before?.update.id === id ? before : undefined),
  });
}

export function useRuling(id: string, host: string | undefined) {
  return useQuery({
    queryKey: ['ruling', id, host],
    queryFn: () => body(api.GET('/api/cases/{id}/rulings/{host}', { params: { path: { id, host: host ?? '' } } })),
    enabled: host !== undefined,
  });
}

export type VerdictDraft = Schemas['VerdictDraft'];
export type ExceptionDraft = Schemas['ExceptionDraft'];

/** @param version of the case on which it is worded: after a change of that it is asked for anew */
export function useConsequences(draft: VerdictDraft | undefined, version: string) {
  return useQuery({
    queryKey: [PREVIEW, 'verdict', draft, version],
    queryFn: () => body(api.POST('/api/verdicts/preview', { body: draft as VerdictDraft })),
    enabled: draft !== undefined && draft.populations.length > 0,
    ...OF_ITS_MOMENT,
  });
}

/** As {@link useConsequences}, of sentences on several cases. */
export function useSeveralConsequences(draft: Schemas['SeveralDraft'], version: string) {
  return useQuery({
    queryKey: [PREVIEW, 'several verdicts', draft, version],
    queryFn: () => body(api.POST('/api/verdicts/several/preview', { body: draft })),
    enabled: draft.sentences.length > 0,
    ...OF_ITS_MOMENT,
  });
}

export function useExceptionConsequence(draft: ExceptionDraft | undefined, version: string) {
  return useQuery({
    queryKey: [PREVIEW, 'exception', draft, version],
    queryFn: () => body(api.POST('/api/exceptions/preview', { body: draft as ExceptionDraft })),
    enabled: draft !== undefined && draft.hosts.trim() !== '',
    ...OF_ITS_MOMENT,
  });
}

export type MatrixAsked = Omit<NonNullable<paths['/api/carriers']['get']['parameters']['query']>, 'after'>;

export type ChangesAsked = Omit<NonNullable<paths['/api/carriers/changes']['get']['parameters']['query']>, 'after'>;

/** What became of updates between two kept days, page by page. */
export function useCarrierChanges(asked: ChangesAsked) {
  return useInfiniteQuery({
    queryKey: ['carrier changes', asked],
    queryFn: ({ pageParam }) => body(api.GET('/api/carriers/changes', { params: { query: { ...asked, after: pageParam } } })),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (page) => page.next,
    placeholderData: keepPreviousData,
    retry: false,
  });
}

/** Updates by populations, page by page. */
export function useMatrix(asked: MatrixAsked) {
  return useInfiniteQuery({
    queryKey: ['carriers', asked],
    queryFn: ({ pageParam }) => body(api.GET('/api/carriers', { params: { query: { ...asked, after: pageParam } } })),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (page) => page.next,
    placeholderData: keepPreviousData,
  });
}

export function useCarriersOf(id: string) {
  return useQuery({ queryKey: ['carriers of', id], queryFn: () => body(api.GET('/api/carriers/{id}', { params: { path: { id } } })) });
}

export function useCarrierHosts(id: string, populations: string[], state: Schemas['CarrierHost']['state'] | undefined) {
  return useInfiniteQuery({
    queryKey: ['carrier hosts', id, populations, state],
    queryFn: ({ pageParam }) =>
      body(api.GET('/api/carriers/{id}/hosts', { params: { path: { id }, query: { population: populations, state, after: pageParam } } })),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (page) => page.next,
  });
}

export function usePopulations() {
  return useQuery({ queryKey: ['populations'], queryFn: () => body(api.GET('/api/populations')) });
}

/** What a ladder, as a document, would change. */
export function useLadderChange(document: string | undefined, version: string) {
  return useQuery({
    queryKey: [PREVIEW, 'ladder', document, version],
    queryFn: () => body(api.POST('/api/populations/preview', { body: document ?? '', bodySerializer: asItIs })),
    enabled: document !== undefined,
    ...OF_ITS_MOMENT,
    retry: false,
  });
}

export function useLadderVersions(enabled: boolean) {
  return useQuery({ queryKey: ['ladder versions'], queryFn: () => body(api.GET('/api/populations/versions')), enabled });
}

export type FreezeDraft = Schemas['FreezeDraft'];

/** Freezes that hold now or are still to come. */
export function useFreezes(enabled: boolean) {
  return useQuery({ queryKey: ['freezes'], queryFn: () => body(api.GET('/api/freezes')), enabled });
}

export function useFreezeConsequence(draft: FreezeDraft | undefined) {
  return useQuery({
    queryKey: [PREVIEW, 'freeze', draft],
    queryFn: () => body(api.POST('/api/freezes/preview', { body: draft as FreezeDraft })),
    enabled: draft !== undefined,
    ...OF_ITS_MOMENT,
    retry: false,
  });
}

export type CautionDraft = Schemas['CautionDraft'];

/** What the fleet's caution is; the first counts. */
export function useCautions() {
  return useQuery({ queryKey: ['cautions'], queryFn: () => body(api.GET('/api/cautions')) });
}

export function useCautionConsequence(draft: CautionDraft) {
  return useQuery({
    queryKey: [PREVIEW, 'caution', draft],
    queryFn: () => body(api.POST('/api/cautions/preview', { body: draft })),
    ...OF_ITS_MOMENT,
    retry: false,
  });
}

/** What waits for an approver, and what became of others within a week. */
export function useProposals() {
  return useQuery({ queryKey: ['proposals'], queryFn: () => body(api.GET('/api/proposals')) });
}

/** Exceptions that wait for an approver, and what became of others within a week. */
export function useProposedExceptions(enabled = true) {
  return useQuery({ enabled, queryKey: ['proposed exceptions'], queryFn: () => body(api.GET('/api/exceptions/proposals')) });
}

/** What one that waits would do now. */
export function useProposedException(number: number, enabled: boolean) {
  return useQuery({
    enabled,
    queryKey: ['exceptions', 'proposed', number],
    queryFn: () => body(api.GET('/api/exceptions/proposals/{number}/preview', { params: { path: { number } } })),
  });
}

/** Renewals that wait for an approver, and what became of others within a week. */
export function useProposedRenewals(enabled = true) {
  return useQuery({
    enabled,
    queryKey: ['proposed exceptions', 'renewals'],
    queryFn: () => body(api.GET('/api/exceptions/renewals/proposals')),
  });
}

/** What goes by somebody's name. */
export function useResponsibilities(person: string) {
  return useQuery({
    queryKey: ['responsibilities', person],
    queryFn: () => body(api.GET('/api/responsibilities', { params: { query: { person } } })),
  });
}

/** How many exceptions ask somebody to do something. */
export function useAskingExceptions(enabled: boolean) {
  return useQuery({
    queryKey: ['asking exceptions'],
    queryFn: async () => (await body(api.GET('/api/exceptions/summary'))).asking,
    enabled,
  });
}

/** What operators are to install by hand. @param update of one update only */
export function useOperatorWork(update?: string, enabled = true) {
  return useQuery({
    enabled,
    queryKey: ['operator work', update],
    queryFn: () => body(api.GET('/api/operator-work', { params: { query: { update } } })),
  });
}

/** What standing rules will do in the next weeks. */
export function useRuleDays(enabled: boolean) {
  return useQuery({ enabled, queryKey: ['by rule'], queryFn: () => body(api.GET('/api/in-force/by-rule')) });
}

export function usePilots() {
  return useQuery({ queryKey: ['pilots'], queryFn: () => body(api.GET('/api/pilots')) });
}

export function usePilot(number: number) {
  return useQuery({
    queryKey: ['pilot', number],
    queryFn: () => body(api.GET('/api/pilots/{number}', { params: { path: { number } } })),
    retry: false,
  });
}

export type HostsAsked = NonNullable<paths['/api/hosts']['get']['parameters']['query']>;

export function useHosts(asked: HostsAsked) {
  return useInfiniteQuery({
    queryKey: ['hosts', asked],
    queryFn: ({ pageParam }) => body(api.GET('/api/hosts', { params: { query: { ...asked, after: pageParam } } })),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (page) => page.next,
    placeholderData: keepPreviousData,
    retry: false,
  });
}

export function useHost(name: string) {
  return useQuery({
    queryKey: ['host', name],
    queryFn: () => body(api.GET('/api/hosts/{name}', { params: { path: { name } } })),
    retry: false,
  });
}

/** The updates that speak of a host, page by page: those that it lacks, or those that it carries. */
export function useHostUpdates(name: string, lacking: boolean) {
  return useInfiniteQuery({
    queryKey: ['host updates', name, lacking],
    queryFn: ({ pageParam }) =>
      body(api.GET('/api/hosts/{name}/updates', { params: { path: { name }, query: { lacking, after: pageParam } } })),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (page) => page.next,
  });
}

export function useHostFilters() {
  return useQuery({ queryKey: ['host filters'], queryFn: () => body(api.GET('/api/host-filters')) });
}

export function useSearch(text: string) {
  return useQuery({
    queryKey: ['search', text],
    queryFn: () => body(api.GET('/api/search', { params: { query: { text } } })),
    enabled: text !== '',
    placeholderData: keepPreviousData,
  });
}

export type Outcome = Schemas['Document']['outcome'];

export function useDocuments(outcome: Outcome | undefined, enabled = true) {
  return useInfiniteQuery({
    enabled,
    queryKey: ['documents', outcome],
    queryFn: ({ pageParam }) => body(api.GET('/api/documents', { params: { query: { outcome, before: pageParam } } })),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (page) => page.next,
  });
}

/** Documents that a newer reader reads otherwise than they count. */
/** Products of advisories that could not be read, by vendor. */
export function useUnreadProducts(enabled = true) {
  return useQuery({ queryKey: ['unread products'], queryFn: () => body(api.GET('/api/unread-products')), enabled });
}

export function useProductMappings() {
  return useQuery({ queryKey: ['product mappings'], queryFn: () => body(api.GET('/api/product-mappings')) });
}

/** What each advisory would say by a mapping. */
export function useMappingPreview(draft: Schemas['MappingDraft'], enabled: boolean) {
  return useQuery({
    queryKey: [PREVIEW, 'mapping', draft],
    queryFn: () => body(api.POST('/api/product-mappings/preview', { body: draft })),
    enabled,
    retry: false,
    ...OF_ITS_MOMENT,
  });
}

export function useReadOtherwise() {
  return useQuery({ queryKey: ['read otherwise'], queryFn: () => body(api.GET('/api/documents/readings')) });
}

export type RecordKind = Schemas['AuditEntry']['kind'];

export type RecordAsked = Omit<NonNullable<paths['/api/record']['get']['parameters']['query']>, 'before'>;

export function useRecord(asked: RecordAsked) {
  return useInfiniteQuery({
    queryKey: ['record', asked],
    queryFn: ({ pageParam }) => body(api.GET('/api/record', { params: { query: { ...asked, before: pageParam } } })),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (page) => page.next,
    placeholderData: keepPreviousData,
  });
}

/**
 * A change that, when done, has everything asked for again; who made it need not wait for the answers.
 *
 * @param notDone says that it failed ("Not removed"), for a change that has no place of its own on screen to say so
 */
export function useChange<Input, Output>(change: (input: Input) => Promise<Output>, notDone?: string) {
  const refresh = useRefresh();
  const { message } = App.useApp();
  return useMutation({
    mutationFn: change,
    onSuccess: () => {
      void refresh();
    },
    onError: (error) => {
      if (notDone !== undefined) {
        void message.error(`${notDone}: ${error.message}`);
      }
    },
  });
}
