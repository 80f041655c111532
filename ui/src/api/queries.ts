import { queryOptions } from "@tanstack/react-query";
import { answer, http } from "./client";

export const kitchenQuery = queryOptions({ queryKey: ["kitchen"], queryFn: () => answer(http.GET("/api/kitchen")) });
export const larderQuery = queryOptions({
  queryKey: ["larder"],
  queryFn: () => answer(http.GET("/api/larder")),
  staleTime: Number.POSITIVE_INFINITY,
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
export const devicesQuery = queryOptions({ queryKey: ["devices"], queryFn: () => answer(http.GET("/api/devices")) });
export const logQuery = (words: string, fault: string) =>
  queryOptions({
    queryKey: ["log", words, fault],
    queryFn: () => answer(http.GET("/api/log", { params: { query: { words, fault } } })),
    placeholderData: (before) => before,
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
    refetchInterval: (query) => (query.state.data?.search?.state === "searching" ? 600 : 6_000),
  });
export const dayListQuery = (of: string) =>
  queryOptions({ queryKey: ["day-list", of], queryFn: () => answer(http.GET("/api/days/{of}/list", { params: { path: { of } } })) });
export const eggsQuery = queryOptions({ queryKey: ["eggs"], queryFn: () => answer(http.GET("/api/eggs")) });
