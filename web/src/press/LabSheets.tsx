import { Button } from "@mantine/core";
import { useMutation } from "@tanstack/react-query";
import { answer, api, type LabSheet } from "../api/client";
import { client } from "../api/queries";
import { useLab } from "../orders/useOrders";
import { complain } from "../ui/complain";
import { Dialog } from "../ui/Dialog";
import { plural } from "../ui/format";
import css from "./press.module.css";

const HERE = { no: "Add", same: "Already added", other: "Update" };

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
    <Dialog onClose={onClose} title="Lab sheets from the lab" size="lg" centered>
      {lab.data && !lab.data.reachable && <p role="alert">{lab.data.message}</p>}
      <ul className={css.published} aria-label="Lab sheets">
        {lab.data?.sheets?.map(({ sheet, here }) => (
          <li key={sheet.id}>
            <div>
              <strong>{sheet.name}</strong>
              <span className="num">
                {sheet.lab}. {(sheet.format ?? "jpeg").toUpperCase()}, {sheet.ppi_target} ppi,{" "}
                {plural(sheet.blanks?.length ?? 0, "format")}
                {sheet.any_size === false && " and no other size"}
                {sheet.bindery && ", binds books"}
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
