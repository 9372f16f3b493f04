import { useMediaQuery } from "@mantine/hooks";

const AT_ONCE = { getInitialValueInEffect: false };

/** Whether the window has no room for panels beside the stage, as a common screen enlarged to 200 %; styles ask the same. */
export const useIsSmall = () => useMediaQuery("(max-width: 900px), (max-height: 560px)", false, AT_ONCE);

/** Whether the window is narrower than some px. */
export const useIsNarrow = (width: number) => useMediaQuery(`(max-width: ${width}px)`, false, AT_ONCE);
