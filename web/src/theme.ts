import { createTheme, type MantineColorsTuple } from "@mantine/core";
import { t } from "./words";

const grey: MantineColorsTuple = [
  "#f7f7f7",
  "#ededed",
  "#dedede",
  "#c9c9c9",
  "#a9a9a9",
  "#8e8e8e",
  "#707070",
  "#505050",
  "#333333",
  "#1c1c1c",
];
const dark: MantineColorsTuple = [
  "#ececec",
  "#d6d6d6",
  "#bcbcbc",
  "#8e8e8e",
  "#5c5c5c",
  "#464646",
  "#3a3a3a",
  "#323232",
  "#242424",
  "#1c1c1c",
];
const berry: MantineColorsTuple = [
  "#fbeaf2",
  "#f3cfe0",
  "#e6a2c3",
  "#d872a4",
  "#cc4a8a",
  "#bd2f75",
  "#a8125a",
  "#920f4e",
  "#7a0b41",
  "#5e0832",
];

export const theme = createTheme({
  fontFamily: "Manrope, sans-serif",
  fontSizes: { xs: "12px", sm: "13px", md: "14px", lg: "16px", xl: "20px" },
  colors: { gray: grey, dark, berry },
  primaryColor: "berry",
  primaryShade: { light: 6, dark: 5 },
  defaultRadius: 2,
  cursorType: "pointer",
  respectReducedMotion: true,
  components: {
    Button: { defaultProps: { size: "xs" } },
    Notification: { defaultProps: { closeButtonProps: { "aria-label": t("Close") } } },
    // The first item takes the focus, as the pattern for menus has it, not a holder that no reader can name.
    Menu: {
      defaultProps: { shadow: "md", withInitialFocusPlaceholder: false },
      styles: { item: { fontSize: 13, padding: "5px 10px" }, label: { padding: "4px 10px" } },
    },
    Tooltip: { defaultProps: { openDelay: 350, withArrow: true } },
  },
});
