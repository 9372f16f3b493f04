/** How many pages a booklet of sheets has, and which of them stay blank: as the core has it (`press/leaves.py`). */
export function bookletPages(roles: readonly string[]): {
  pages: number;
  blank: number[];
  hasCover: boolean;
} {
  let start = 0;
  const blank: number[] = [];
  for (const role of roles) {
    if (role === "cover") continue;
    // A spread begins on a left page.
    if (role === "spread" && start % 2 === 0) blank.push(++start);
    start += role === "spread" ? 2 : 1;
  }
  const pages = Math.ceil(start / 4) * 4;
  while (start < pages) blank.push(++start);
  return { pages, blank, hasCover: roles.includes("cover") };
}
