import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { lazy, StrictMode, Suspense } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Navigate, Route, Routes } from "react-router";
import { Refused } from "./api/client";
import { House } from "./kit/House";
import { Waiting } from "./kit/States";
import "./style.css";

const Recipes = lazy(() => import("./places/recipes/Recipes"));
const Write = lazy(() => import("./places/write/Write"));
const SheetPlace = lazy(() => import("./places/sheet/SheetPlace"));
const ProductPlace = lazy(() => import("./places/product/ProductPlace"));
const Bench = lazy(() => import("./places/bench/Bench"));
const BenchList = lazy(() => import("./places/bench/BenchList"));
const Log = lazy(() => import("./places/log/Log"));
const Overlay = lazy(() => import("./places/log/Overlay"));
const PracticePlace = lazy(() => import("./places/practice/PracticePlace"));
const LogBatch = lazy(() => import("./places/log/LogBatch"));
const DayPlace = lazy(() => import("./places/day/DayPlace"));
const Eggs = lazy(() => import("./places/eggs/Eggs"));
const Stock = lazy(() => import("./places/stock/Stock"));
const KitchenPlace = lazy(() => import("./places/kitchen/KitchenPlace"));

const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      retry: (count, failure) => count < 3 && !(failure instanceof Refused && !failure.offline),
    },
  },
});

createRoot(document.getElementById("root") as HTMLElement).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <BrowserRouter>
        <House>
          <Suspense fallback={<Waiting what="the page" />}>
            <Routes>
              <Route path="/" element={<Navigate to="/recipes" replace />} />
              <Route path="/recipes" element={<Recipes />} />
              <Route path="/recipes/:id" element={<SheetPlace />} />
              <Route path="/write" element={<Write />} />
              <Route path="/products/:id" element={<ProductPlace />} />
              <Route path="/day" element={<DayPlace />} />
              <Route path="/day/:of" element={<DayPlace />} />
              <Route path="/eggs" element={<Eggs />} />
              <Route path="/stock" element={<Stock />} />
              <Route path="/bench" element={<BenchList />} />
              <Route path="/bench/:id" element={<Bench />} />
              <Route path="/log" element={<Log />} />
              <Route path="/log/over" element={<Overlay />} />
              <Route path="/log/:id" element={<LogBatch />} />
              <Route path="/practice" element={<PracticePlace />} />
              <Route path="/practice/:drill" element={<PracticePlace />} />
              <Route path="/kitchen" element={<KitchenPlace />} />
              <Route path="*" element={<Navigate to="/recipes" replace />} />
            </Routes>
          </Suspense>
        </House>
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);
