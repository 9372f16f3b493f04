import { expect, test } from "vitest";
import { bookletPages } from "./booklet";

test.each([
  [["page", "spread", "spread"], 8, [6, 7, 8]],
  [["cover", "spread", "spread"], 8, [1, 6, 7, 8]],
  [["page", "page", "page", "page"], 4, []],
  [["cover", "page", "spread", "page", "cover"], 4, []],
])("pages of a booklet of %j", (roles, pages, blank) => {
  expect(bookletPages(roles)).toMatchObject({ pages, blank });
});
