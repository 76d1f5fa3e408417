import "@fontsource/barlow/latin-400.css";
import "@fontsource/barlow/latin-500.css";
import "@fontsource/barlow/latin-600.css";
import "@fontsource/barlow-semi-condensed/latin-500.css";
import "@fontsource/barlow-semi-condensed/latin-600.css";
import "@fontsource/jetbrains-mono/latin-500.css";
import "./theme/tokens.css";
import "./sheet/sheet.css";
import { ChakraProvider } from "@chakra-ui/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Route, Routes } from "react-router";
import { wouldLoseWork } from "./job/drafts";
import { JobPage } from "./pages/job/JobPage";
import { JobsPage } from "./pages/jobs/JobsPage";
import { firstMode, showMode } from "./theme/mode";
import { system } from "./theme/system";

showMode(firstMode());
// Before a window is closed that holds work which is nowhere else.
window.addEventListener("beforeunload", (event) => {
  if (wouldLoseWork()) event.preventDefault();
});
const queries = new QueryClient({
  defaultOptions: { queries: { retry: false, refetchOnWindowFocus: false } },
});
const root = document.getElementById("root");
if (!root) throw new Error("index.html has no #root");
createRoot(root).render(
  <StrictMode>
    <ChakraProvider value={system}>
      <QueryClientProvider client={queries}>
        <BrowserRouter>
          <Routes>
            <Route path="/" element={<JobsPage />} />
            <Route path="/jobs/:id/:stage?" element={<JobPage />} />
            <Route path="*" element={<JobsPage />} />
          </Routes>
        </BrowserRouter>
      </QueryClientProvider>
    </ChakraProvider>
  </StrictMode>,
);
