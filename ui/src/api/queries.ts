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
  refetchInterval: 20_000,
});
export const batchQuery = (id: string) =>
  queryOptions({
    queryKey: ["batch", id],
    queryFn: () => answer(http.GET("/api/batches/{batch_id}", { params: { path: { batch_id: id } } })),
  });
export const logQuery = (words: string, fault: string) =>
  queryOptions({
    queryKey: ["log", words, fault],
    queryFn: () => answer(http.GET("/api/log", { params: { query: { words, fault } } })),
    placeholderData: (before) => before,
  });
