import { ChakraProvider } from "@chakra-ui/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import "@fontsource-variable/atkinson-hyperlegible-next";
import "@fontsource-variable/jetbrains-mono";
import { Problem } from "./api/client";
import { App } from "./frame/App";
import { Guard } from "./frame/screen";
import "./theme/base.css";
import { system } from "./theme/system";

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 15_000,
      // Without a network they are asked all the same: some answer with a copy.
      networkMode: "always",
      // A refusal is final; a server that did not answer may answer the next time.
      retry: (count, error) =>
        count < 2 && error instanceof Problem && (error.status === 0 || error.status >= 502),
    },
    mutations: { networkMode: "always" },
  },
});

// The pages themselves are kept in the browser, so that they open at the pitch without a network.
if ("serviceWorker" in navigator && import.meta.env.PROD)
  window.addEventListener("load", () => void navigator.serviceWorker.register("/sw.js").catch(() => {}));

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <ChakraProvider value={system}>
        <QueryClientProvider client={queries}>
          <BrowserRouter useTransitions={false}>
            <Guard keys={[]}>
              <App />
            </Guard>
          </BrowserRouter>
        </QueryClientProvider>
      </ChakraProvider>
    </StrictMode>,
  );
}
