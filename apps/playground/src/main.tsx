import "@modrik/look/look.css";
import "@fontsource/ibm-plex-mono/400.css";
import "./page.css";
import { MantineProvider } from "@mantine/core";
import { theme } from "@modrik/look";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { Playground } from "./playground.js";

createRoot(document.getElementById("root") as HTMLElement).render(
  <StrictMode>
    <MantineProvider theme={theme} defaultColorScheme="auto">
      <Playground />
    </MantineProvider>
  </StrictMode>,
);
