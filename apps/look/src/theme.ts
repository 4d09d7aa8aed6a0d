// The theme of the controls of both pages: one deep ink blue, little roundness, IBM Plex.
import { createTheme } from "@mantine/core";

export const theme = createTheme({
  fontFamily: "IBM Plex Sans, system-ui, sans-serif",
  fontFamilyMonospace: "IBM Plex Mono, ui-monospace, monospace",
  primaryColor: "ink",
  primaryShade: { light: 7, dark: 3 },
  colors: {
    ink: ["#eef1fb", "#d9dff3", "#b5c0e6", "#8fa6e8", "#7a90d8", "#4d67b8", "#3a54a4", "#27408b", "#1d3273", "#14255c"],
  },
  defaultRadius: "xs",
});
