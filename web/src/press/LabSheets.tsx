import { Button } from "@mantine/core";
import { useMutation } from "@tanstack/react-query";
import { answer, api, type LabSheet } from "../api/client";
import { client } from "../api/queries";
import { useLab } from "../orders/useOrders";
import { complain } from "../ui/complain";
import { Dialog } from "../ui/Dialog";
import { t, tn } from "../words";
import css from "./press.module.css";

const HERE = { no: t("Add"), same: t("Already added"), other: t("Update") };

/** What the lab publishes, and which of it is here; what is taken can be chosen for this job and others. */
export function LabSheets({ onClose, onTaken }: { onClose: () => void; onTaken: (sheet: LabSheet) => void }) {
  const lab = useLab(true);
  const take = useMutation({
    mutationFn: (sheet: string) =>
      answer<LabSheet>(api.POST("/api/lab/sheets/{sheet}", { params: { path: { sheet } } })),
    onSuccess: (sheet) => {
      client.invalidateQueries({ queryKey: ["labs"] });
      client.invalidateQueries({ queryKey: ["lab"] });
      onTaken(sheet);
    },
    onError: complain,
  });
  return (
    <Dialog onClose={onClose} title={t("Lab sheets from the lab")} size="lg" centered>
      {lab.data && !lab.data.reachable && <p role="alert">{lab.data.message}</p>}
      <ul className={css.published} aria-label={t("Lab sheets")}>
        {lab.data?.sheets?.map(({ sheet, here }) => (
          <li key={sheet.id}>
            <div>
              <strong>{sheet.name}</strong>
              <span className="num">
                {tn(
                  sheet.blanks?.length ?? 0,
                  "{lab}. {format}, {ppi_target} ppi, {n} format",
                  "{lab}. {format}, {ppi_target} ppi, {n} formats",
                  {
                    lab: sheet.lab,
                    format: (sheet.format ?? "jpeg").toUpperCase(),
                    ppi_target: sheet.ppi_target,
                  },
                )}
                {sheet.any_size === false && ` ${t("and no other size")}`}
                {sheet.bindery && `, ${t("binds books")}`}
              </span>
              <span>{sheet.note}</span>
            </div>
            <Button
              size="compact-xs"
              variant="default"
              disabled={here === "same"}
              loading={take.isPending && take.variables === sheet.id}
              onClick={() => take.mutate(sheet.id)}
            >
              {HERE[here]}
            </Button>
          </li>
        ))}
      </ul>
    </Dialog>
  );
}
