import { ChakraProvider } from "@chakra-ui/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import "@fontsource-variable/atkinson-hyperlegible-next";
import "@fontsource-variable/jetbrains-mono";
import { Problem } from "./api/client";
import { App } from "./frame/App";
import "./theme/base.css";
import { system } from "./theme/system";

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 15_000,
      // A refusal is final; a server that did not answer may answer the next time.
      retry: (count, error) =>
        count < 2 && error instanceof Problem && (error.status === 0 || error.status >= 502),
    },
  },
});

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <ChakraProvider value={system}>
        <QueryClientProvider client={queries}>
          <BrowserRouter useTransitions={false}>
            <App />
          </BrowserRouter>
        </QueryClientProvider>
      </ChakraProvider>
    </StrictMode>,
  );
}
