import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode, Suspense } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Navigate, Route, Routes } from "react-router";
import { Refused } from "./api/client";
import { listen } from "./api/outbox";
import { House } from "./kit/House";
import { place } from "./kit/Place";
import { Waiting } from "./kit/States";
import "./style.css";

const Recipes = place(() => import("./places/recipes/Recipes"));
const Write = place(() => import("./places/write/Write"));
const SheetPlace = place(() => import("./places/sheet/SheetPlace"));
const ProductPlace = place(() => import("./places/product/ProductPlace"));
const Bench = place(() => import("./places/bench/Bench"));
const BenchList = place(() => import("./places/bench/BenchList"));
const Log = place(() => import("./places/log/Log"));
const Overlay = place(() => import("./places/log/Overlay"));
const PracticePlace = place(() => import("./places/practice/PracticePlace"));
const LogBatch = place(() => import("./places/log/LogBatch"));
const DayPlace = place(() => import("./places/day/DayPlace"));
const Eggs = place(() => import("./places/eggs/Eggs"));
const Stock = place(() => import("./places/stock/Stock"));
/** Every drawing of food at once; in development only. */
const KitPage = import.meta.env.DEV ? place(() => import("./places/kit/KitPage")) : undefined;
const KitchenPlace = place(() => import("./places/kitchen/KitchenPlace"));

const client = new QueryClient({
  // Whether there is a network says nothing of the app: it may run on this very machine.
  defaultOptions: {
    mutations: { networkMode: "always" },
    queries: {
      networkMode: "always",
      staleTime: 5_000,
      retry: (count, failure) => count < 3 && !(failure instanceof Refused && !failure.offline),
    },
  },
});

listen((sent) => {
  if (sent && "ledger" in sent)
    for (const key of [sent.ledger, "day"]) void client.invalidateQueries({ queryKey: [key] });
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
              {KitPage && <Route path="/kit" element={<KitPage />} />}
              <Route path="*" element={<Navigate to="/recipes" replace />} />
            </Routes>
          </Suspense>
        </House>
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);
