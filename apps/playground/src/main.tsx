import "@mantine/core/styles.css";
import "@fontsource/ibm-plex-sans/400.css";
import "@fontsource/ibm-plex-sans/600.css";
import "@fontsource/ibm-plex-mono/400.css";
import "./page.css";
import { createTheme, MantineProvider } from "@mantine/core";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { Playground } from "./playground.js";

const theme = createTheme({
  fontFamily: "IBM Plex Sans, system-ui, sans-serif",
  fontFamilyMonospace: "IBM Plex Mono, ui-monospace, monospace",
  primaryColor: "ink",
  primaryShade: { light: 7, dark: 4 },
  colors: {
    ink: ["#eef1fb", "#d9dff3", "#b5c0e6", "#8fa6e8", "#7a90d8", "#4d67b8", "#3a54a4", "#27408b", "#1d3273", "#14255c"],
  },
  defaultRadius: "xs",
});

createRoot(document.getElementById("root") as HTMLElement).render(
  <StrictMode>
    <MantineProvider theme={theme} defaultColorScheme="auto">
      <Playground />
    </MantineProvider>
  </StrictMode>,
);
