/** How many pages a booklet of sheets has, and which of them stay blank: as the core has it (`press/leaves.py`). */
export function bookletPages(roles: readonly string[]): {
  pages: number;
  blank: number[];
  hasCover: boolean;
} {
  let at = 0;
  const blank: number[] = [];
  for (const role of roles) {
    if (role === "cover") continue;
    // A spread begins on a left page.
    if (role === "spread" && at % 2 === 0) blank.push(++at);
    at += role === "spread" ? 2 : 1;
  }
  const pages = Math.ceil(at / 4) * 4;
  while (at < pages) blank.push(++at);
  return { pages, blank, hasCover: roles.includes("cover") };
}
