import "@modrik/look/look.css";
import "./panel.css";
import { MantineProvider } from "@mantine/core";
import { theme } from "@modrik/look";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { Refused, takeTokenFromAddress } from "./ask.js";
import { Panel } from "./panel.js";

takeTokenFromAddress();

const client = new QueryClient({
  defaultOptions: {
    queries: {
      // What the house refuses it refuses again; what did not arrive may arrive.
      retry: (count, error) => !(error instanceof Refused) && count < 2,
      refetchOnWindowFocus: false,
      networkMode: "always",
    },
    mutations: { networkMode: "always" },
  },
});

createRoot(document.getElementById("root") as HTMLElement).render(
  <StrictMode>
    <MantineProvider theme={theme} defaultColorScheme="auto">
      <QueryClientProvider client={client}>
        <Panel />
      </QueryClientProvider>
    </MantineProvider>
  </StrictMode>,
);

// So that the page opens while the house cannot be reached. Browsers want a safe address for it: this machine, or TLS.
if ("serviceWorker" in navigator && window.isSecureContext) void navigator.serviceWorker.register("sw.js").catch(() => {});
