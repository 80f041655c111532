import { infiniteQueryOptions, keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answer, type FirstHour, http, type Larder, type LogAsked } from "./client";

export const kitchenQuery = queryOptions({ queryKey: ["kitchen"], queryFn: () => answer(http.GET("/api/kitchen")) });
/** What a new kitchen is asked, and the book it may begin from. */
export const firstQuery = queryOptions({
  queryKey: ["first"],
  queryFn: () => answer(http.GET("/api/first")) as Promise<unknown> as Promise<FirstHour>,
});
/** The photographs of some batches. */
export const picturesQuery = (batches: readonly string[]) =>
  queryOptions({
    queryKey: ["pictures", ...batches],
    queryFn: () => answer(http.GET("/api/pictures", { params: { query: { batch: [...batches] } } })),
    enabled: batches.length > 0,
  });
export const stockQuery = queryOptions({ queryKey: ["stock"], queryFn: () => answer(http.GET("/api/stock")) });
/** What a batch, or an entry of the book, could be stored as. */
export const storableQuery = (of: "batch" | "entry", id: string) =>
  queryOptions({
    queryKey: ["stock", of, id],
    queryFn: () =>
      of === "batch"
        ? answer(http.GET("/api/stock/of-batch/{batch_id}", { params: { path: { batch_id: id } } }))
        : answer(http.GET("/api/stock/of/{entry_id}", { params: { path: { entry_id: id } } })),
    enabled: id !== "",
    retry: false,
  });
export const larderQuery = queryOptions({
  queryKey: ["larder"],
  queryFn: () => answer(http.GET("/api/larder")) as Promise<unknown> as Promise<Larder>,
  staleTime: Number.POSITIVE_INFINITY,
});
/** What of the book fits a search. */
export const foundQuery = (words: string) =>
  queryOptions({
    queryKey: ["recipes", "found", words],
    queryFn: () => answer(http.GET("/api/book/found", { params: { query: { words } } })),
    enabled: words !== "",
    placeholderData: keepPreviousData,
  });
export const buildsQuery = queryOptions({
  queryKey: ["products", "builds"],
  queryFn: () => answer(http.GET("/api/products/builds")),
});
export const archivedQuery = queryOptions({
  queryKey: ["archived"],
  queryFn: () => answer(http.GET("/api/book/archived")),
});
export const recipesQuery = queryOptions({ queryKey: ["recipes"], queryFn: () => answer(http.GET("/api/recipes")) });
export const recipeQuery = (id: string) =>
  queryOptions({
    queryKey: ["recipe", id],
    queryFn: () => answer(http.GET("/api/recipes/{recipe_id}", { params: { path: { recipe_id: id } } })),
  });
export const underWayQuery = queryOptions({
  queryKey: ["batches"],
  queryFn: () => answer(http.GET("/api/batches")),
  refetchInterval: 6_000,
});
export const batchQuery = (id: string) =>
  queryOptions({
    queryKey: ["batch", id],
    queryFn: () => answer(http.GET("/api/batches/{batch_id}", { params: { path: { batch_id: id } } })),
  });
export const tracesQuery = (id: string) =>
  queryOptions({
    queryKey: ["traces", id],
    queryFn: () => answer(http.GET("/api/batches/{batch_id}/traces", { params: { path: { batch_id: id } } })),
    staleTime: 0,
  });
export const madeQuery = (recipeId: string) =>
  queryOptions({
    queryKey: ["made", recipeId],
    queryFn: () => answer(http.GET("/api/recipes/{recipe_id}/batches", { params: { path: { recipe_id: recipeId } } })),
    staleTime: 0,
  });
export const devicesQuery = queryOptions({ queryKey: ["devices"], queryFn: () => answer(http.GET("/api/devices")) });
export const logQuery = (asked: LogAsked) =>
  infiniteQueryOptions({
    queryKey: ["log", asked],
    queryFn: ({ pageParam }) => answer(http.GET("/api/log", { params: { query: { ...asked, after: pageParam } } })),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (last) => last.after ?? undefined,
    placeholderData: (before) => before,
  });
/** What really went in at each line of a recipe, in its latest batches. */
export const pouredQuery = (id: string) =>
  queryOptions({
    queryKey: ["batches", "poured", id],
    queryFn: () => answer(http.GET("/api/recipes/{recipe_id}/poured", { params: { path: { recipe_id: id } } }), true),
    retry: false,
  });
export const logChoicesQuery = queryOptions({
  queryKey: ["log", "choices"],
  queryFn: () => answer(http.GET("/api/log/choices")),
});
export const trendQuery = (asked: LogAsked) =>
  queryOptions({
    queryKey: ["log", "trend", asked],
    queryFn: () => answer(http.GET("/api/log/trend", { params: { query: asked } })),
    placeholderData: (before) => before,
  });
export const overlayQuery = (ids: string[]) =>
  queryOptions({
    queryKey: ["log", "over", ids],
    queryFn: () => answer(http.GET("/api/log/overlay", { params: { query: { ids } } })),
  });
export const diagnosisQuery = (id: string) =>
  queryOptions({
    queryKey: ["diagnosis", id],
    queryFn: () => answer(http.GET("/api/batches/{batch_id}/diagnosis", { params: { path: { batch_id: id } } })),
  });
export const trialsQuery = (recipeId: string) =>
  queryOptions({
    queryKey: ["trials", recipeId],
    queryFn: () => answer(http.GET("/api/recipes/{recipe_id}/trials", { params: { path: { recipe_id: recipeId } } })),
  });
/** While batches are still being looked at, it is asked again. */
export const fitsQuery = queryOptions({
  queryKey: ["fits"],
  queryFn: () => answer(http.GET("/api/kitchen/fits")),
  refetchInterval: (query) => (query.state.data && query.state.data.pending > 0 ? 200 : false),
});
export const traysQuery = queryOptions({ queryKey: ["trays"], queryFn: () => answer(http.GET("/api/kitchen/trays")) });
export const drillsQuery = queryOptions({ queryKey: ["practice"], queryFn: () => answer(http.GET("/api/practice")) });
export const practiceRunsQuery = (drill: string) =>
  queryOptions({
    queryKey: ["practice", drill],
    queryFn: () => answer(http.GET("/api/practice/runs/{drill}", { params: { path: { drill } } })),
  });
export const productsQuery = queryOptions({ queryKey: ["products"], queryFn: () => answer(http.GET("/api/products")) });
export const productQuery = (id: string) =>
  queryOptions({
    queryKey: ["product", id],
    queryFn: () => answer(http.GET("/api/products/{product_id}", { params: { path: { product_id: id } } })),
  });
export const daysQuery = queryOptions({ queryKey: ["days"], queryFn: () => answer(http.GET("/api/days")) });
/** A day under way is asked for again and again; while a plan is looked for, more often. */
export const dayQuery = (of: string) =>
  queryOptions({
    queryKey: ["day", of],
    queryFn: () => answer(http.GET("/api/days/{of}", { params: { path: { of } } })),
    refetchInterval: (query) =>
      ["searching", "waiting"].includes(query.state.data?.search?.state ?? "") ? 600 : 6_000,
  });
export const dayListQuery = (of: string) =>
  queryOptions({
    queryKey: ["day-list", of],
    queryFn: () => answer(http.GET("/api/days/{of}/list", { params: { path: { of } } })),
  });
/** Whether a write reaches the disk, asked now and then, and at once when something failed. */
export const healthQuery = queryOptions({
  queryKey: ["health"],
  queryFn: () => answer(http.GET("/api/health"), true),
  refetchInterval: 20_000,
  retry: false,
  staleTime: 1_000,
});
export const copiesQuery = queryOptions({ queryKey: ["copies"], queryFn: () => answer(http.GET("/api/copies")) });
export const eggsQuery = queryOptions({ queryKey: ["eggs"], queryFn: () => answer(http.GET("/api/eggs")) });
