import { describe, expect, it } from "vitest";
import type { ProofLinkState } from "../api/client";
import { approvalOf } from "./proofLinks";

const link = (fields: Partial<ProofLinkState>): ProofLinkState => ({
  token: "t",
  url: "/p/t",
  edition: "first",
  edition_name: "",
  created: "2026-12-01T10:00:00.000+00:00",
  expires: "2026-12-15T10:00:00.000+00:00",
  has_expired: false,
  opened: null,
  remarks: 0,
  approved_by: null,
  approved: null,
  is_current: true,
  ...fields,
});
const approved = { approved_by: "Ola Brandvik", approved: "2026-12-02T09:00:00.000+00:00" };

describe("the customer's approval", () => {
  it("is nothing where no proof was sent by a link", () => expect(approvalOf([], [""])).toBeUndefined());
  it("is waited for", () => expect(approvalOf([link({})], [""])?.look).toBe(true));
  it("holds for what was shown", () => {
    const said = approvalOf([link(approved)], [""]);
    expect(said?.look).toBe(false);
    expect(said?.sentence).toContain("Ola Brandvik");
  });
  it("no longer holds once the job has changed", () => {
    const said = approvalOf([link({ ...approved, is_current: false })], [""]);
    expect(said?.look).toBe(true);
    expect(said?.sentence).toContain("changed since Ola Brandvik");
  });
  it("that holds comes before one that does not", () =>
    expect(approvalOf([link({ ...approved, is_current: false }), link(approved)], [""])?.look).toBe(false));
  it("of one edition is none of another", () => {
    const links = [link({ ...approved, edition_name: "Parents" })];
    expect(approvalOf(links, ["Parents"])?.look).toBe(false);
    const said = approvalOf(links, ["Parents", "Grandparents"]);
    expect(said?.look).toBe(true);
    expect(said?.sentence).toContain("Grandparents");
    expect(said?.sentence).not.toContain("Parents,");
  });
});
