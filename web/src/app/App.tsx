import { QueryClientProvider } from "@tanstack/react-query";
import { Tooltip } from "radix-ui";
import { lazy, Suspense, useEffect } from "react";
import { BrowserRouter, Navigate, Route, Routes } from "react-router";
import { Toaster } from "sonner";
import { queries } from "../api/queries";
import { SignedIn } from "../shell/SignedIn";
import { Waiting } from "../shell/Waiting";

const CompareScreen = lazy(async () => ({ default: (await import("../compare/CompareScreen")).CompareScreen }));
const DataScreen = lazy(async () => ({ default: (await import("../data/DataScreen")).DataScreen }));
const DemandScreen = lazy(async () => ({ default: (await import("../demand/DemandScreen")).DemandScreen }));
const FindingsScreen = lazy(async () => ({ default: (await import("../findings/FindingsScreen")).FindingsScreen }));
const FlowScreen = lazy(async () => ({ default: (await import("../flow/FlowScreen")).FlowScreen }));
const HistoryScreen = lazy(async () => ({ default: (await import("../history/HistoryScreen")).HistoryScreen }));
const MemoScreen = lazy(async () => ({ default: (await import("../memo/MemoScreen")).MemoScreen }));
const RightSizeScreen = lazy(async () => ({ default: (await import("../sizing/RightSizeScreen")).RightSizeScreen }));
const RunScreen = lazy(async () => ({ default: (await import("../runs/RunScreen")).RunScreen }));
const ScenariosScreen = lazy(async () => ({ default: (await import("../scenarios/ScenariosScreen")).ScenariosScreen }));
const StudiesScreen = lazy(async () => ({ default: (await import("../studies/StudiesScreen")).StudiesScreen }));
const TeamsScreen = lazy(async () => ({ default: (await import("../teams/TeamsScreen")).TeamsScreen }));
const WatchScreen = lazy(async () => ({ default: (await import("../watch/WatchScreen")).WatchScreen }));
const Workbench = lazy(async () => ({ default: (await import("../shell/Workbench")).Workbench }));

const MILLISECONDS_BEFORE = 1000;

/** Fetches the screens that follow a run soon after the first one is there, so that nobody waits for them then. */
function useFetchedAhead(): void {
  useEffect(() => {
    const screens = () => [import("../runs/RunScreen"), import("../findings/FindingsScreen"), import("../compare/CompareScreen")];
    const timer = window.setTimeout(() => void Promise.allSettled(screens()), MILLISECONDS_BEFORE);
    return () => window.clearTimeout(timer);
  }, []);
}

export function App() {
  useFetchedAhead();
  return (
    <QueryClientProvider client={queries}>
      <Tooltip.Provider delayDuration={400}>
        <BrowserRouter>
          <SignedIn>
            <Suspense fallback={null}>
              <Routes>
                <Route path="/" element={<StudiesScreen />} />
                <Route path="/studies/:studyId" element={<Workbench />}>
                  <Route index element={<Navigate to="flow" replace />} />
                  <Route path="data" element={<DataScreen />} />
                  <Route path="flow" element={<FlowScreen />} />
                  <Route path="demand" element={<DemandScreen />} />
                  <Route path="teams" element={<TeamsScreen />} />
                  <Route path="scenarios" element={<ScenariosScreen />} />
                  <Route path="run" element={<RunScreen />} />
                  <Route path="findings" element={<FindingsScreen />} />
                  <Route path="findings/:runId" element={<FindingsScreen />} />
                  <Route path="history" element={<HistoryScreen />} />
                  <Route path="memos/:memoId" element={<MemoScreen />} />
                  <Route path="compare" element={<CompareScreen />} />
                  <Route path="right-size" element={<RightSizeScreen />} />
                  <Route path="watch" element={<WatchScreen />} />
                </Route>
                <Route path="*" element={<Navigate to="/" replace />} />
              </Routes>
            </Suspense>
            <Waiting />
          </SignedIn>
        </BrowserRouter>
        <Toaster
          position="bottom-center"
          offset={88}
          toastOptions={{ style: { background: "var(--bar)", color: "var(--on-bar)", border: "none", fontFamily: "var(--font-sans)" } }}
        />
      </Tooltip.Provider>
    </QueryClientProvider>
  );
}
