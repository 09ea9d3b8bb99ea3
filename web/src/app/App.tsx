import { QueryClientProvider } from "@tanstack/react-query";
import { Tooltip } from "radix-ui";
import { BrowserRouter, Navigate, Route, Routes } from "react-router";
import { Toaster } from "sonner";
import { CompareScreen } from "../compare/CompareScreen";
import { DemandScreen } from "../demand/DemandScreen";
import { FindingsScreen } from "../findings/FindingsScreen";
import { FlowScreen } from "../flow/FlowScreen";
import { HistoryScreen } from "../history/HistoryScreen";
import { RunScreen } from "../runs/RunScreen";
import { StudiesScreen } from "../studies/StudiesScreen";
import { queries } from "./queries";
import { SignedIn } from "./SignedIn";
import { Workbench } from "./Workbench";

export function App() {
  return (
    <QueryClientProvider client={queries}>
      <Tooltip.Provider delayDuration={400}>
        <BrowserRouter>
          <SignedIn>
            <Routes>
              <Route path="/" element={<StudiesScreen />} />
              <Route path="/studies/:studyId" element={<Workbench />}>
                <Route index element={<Navigate to="flow" replace />} />
                <Route path="flow" element={<FlowScreen />} />
                <Route path="demand" element={<DemandScreen />} />
                <Route path="run" element={<RunScreen />} />
                <Route path="findings" element={<FindingsScreen />} />
                <Route path="findings/:runId" element={<FindingsScreen />} />
                <Route path="history" element={<HistoryScreen />} />
                <Route path="compare" element={<CompareScreen />} />
              </Route>
              <Route path="*" element={<Navigate to="/" replace />} />
            </Routes>
          </SignedIn>
        </BrowserRouter>
        <Toaster position="bottom-center" toastOptions={{ style: { background: "var(--bar)", color: "var(--on-bar)", border: "none", fontFamily: "inherit" } }} />
      </Tooltip.Provider>
    </QueryClientProvider>
  );
}
