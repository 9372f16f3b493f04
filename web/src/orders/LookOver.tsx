import { Button, Select } from "@mantine/core";
import { useState } from "react";
import { type Report, sent } from "../api/client";
import { useLabs } from "../api/queries";
import { ChooseFile } from "../ui/ChooseFile";
import { complain } from "../ui/complain";
import { Dialog } from "../ui/Dialog";
import { listed } from "../ui/format";
import { Mark } from "../ui/Mark";
import { useLatest } from "../ui/useLatest";
import { t, tn } from "../words";
import css from "./orders.module.css";

/** A print file of anybody's read back: what is against the standard it names, and against a lab sheet. */
export function LookOver({ lab: first = "", onClose }: { lab?: string; onClose: () => void }) {
  const labs = useLabs();
  const [lab, setLab] = useState(first);
  const [file, setFile] = useState<File | null>(null);
  const [report, setReport] = useState<Report>();
  const [busy, setBusy] = useState(false);
  const latest = useLatest();
  const look = async (chosen: File | null, against: string) => {
    if (!chosen) return setLab(against);
    const signal = latest();
    setFile(chosen);
    setLab(against);
    setBusy(true);
    setReport(undefined);
    const query = new URLSearchParams({ name: chosen.name, lab: against });
    const report = await sent<Report>(`/api/verify?${query}`, chosen, signal).catch(complain);
    if (signal.aborted) return;
    setReport(report || undefined);
    setBusy(false);
  };
  return (
    <Dialog onClose={onClose} title={t("Check a print file")} size="lg" centered>
      <div className={css.form}>
        <Select
          size="xs"
          label={t("Lab sheet")}
          allowDeselect={false}
          value={lab}
          data={[
            { value: "", label: t("the standard that it names, alone") },
            ...(labs.data ?? []).map((sheet) => ({ value: sheet.id, label: `${sheet.name}, ${sheet.lab}` })),
          ]}
          onChange={(value) => look(file, value ?? "")}
        />
        <ChooseFile onFile={(chosen) => look(chosen, lab)} accept=".pdf,.jpg,.jpeg,.tif,.tiff,.png">
          {(props) => (
            <Button {...props} size="xs" variant="default" loading={busy}>
              {file ? t("Another file…") : t("Choose a PDF, JPEG, TIFF or PNG…")}
            </Button>
          )}
        </ChooseFile>
        {report && (
          <section aria-label={t("Findings")} className={css.report}>
            <p className="num">
              <strong>{report.file}</strong>
              {report.pages
                ? `: ${tn(
                    report.pages,
                    "{standard}, {n} page; structurally checked against {checked}.",
                    "{standard}, {n} pages; structurally checked against {checked}.",
                    {
                      standard: report.standard || report.kind.toUpperCase(),
                      checked: listed(report.checked ?? []) || t("itself"),
                    },
                  )}`
                : ` ${t("could not be checked.")}`}
            </p>
            {report.defects?.length === 0 && (
              <p>
                <Mark status="order" /> {t("Nothing was found.")}
              </p>
            )}
            <ul className={css.reasons}>
              {report.defects?.map((defect) => (
                <li key={`${defect.rule} ${defect.page} ${defect.sentence}`}>
                  <Mark status={defect.severity} size={10} />{" "}
                  {(defect.page ?? 0) > 0 &&
                    (report.pages ?? 0) > 1 &&
                    `${t("Page {page}", { page: defect.page })}: `}
                  {defect.sentence}
                </li>
              ))}
            </ul>
          </section>
        )}
      </div>
    </Dialog>
  );
}
