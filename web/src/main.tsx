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
import { BrowserRouter, Route, Routes, useLocation } from "react-router";
import { JobPage } from "./pages/job/JobPage";
import { JobsPage } from "./pages/jobs/JobsPage";
import { LibraryPage } from "./pages/library/LibraryPage";
import { FirstMinute } from "./pages/look/FirstMinute";
import { LookPage } from "./pages/look/LookPage";
import { isDone } from "./pages/look/welcomed";
import { wouldLoseWork } from "./saved/drafts";
import { takeOverDrafts } from "./saved/former";
import { firstMode, showMode } from "./theme/mode";
import { system } from "./theme/system";

showMode(firstMode());
takeOverDrafts();
// Before a window is closed that holds work which is nowhere else.
window.addEventListener("beforeunload", (event) => {
  if (wouldLoseWork()) event.preventDefault();
});
/** Who comes for the first time meets a running circuit, later the jobs. */
function Home() {
  useLocation();
  return isDone() ? <JobsPage /> : <FirstMinute />;
}
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
            <Route path="/" element={<Home />} />
            <Route path="/first" element={<FirstMinute />} />
            <Route path="/library" element={<LibraryPage />} />
            <Route path="/library/:name" element={<LookPage />} />
            <Route path="/jobs/:id/:stage?" element={<JobPage />} />
            <Route path="*" element={<JobsPage />} />
          </Routes>
        </BrowserRouter>
      </QueryClientProvider>
    </ChakraProvider>
  </StrictMode>,
);
