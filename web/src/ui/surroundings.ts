import { useMantineColorScheme } from "@mantine/core";

/** Whether all around the sheets is dark, for work in the evening; kept in this browser. */
export function useSurroundings() {
  const { colorScheme, setColorScheme } = useMantineColorScheme();
  return {
    isDark: colorScheme === "dark",
    setDark: (dark: boolean) => setColorScheme(dark ? "dark" : "light"),
  };
}
