import { Button, Tooltip } from "@mantine/core";
import type { ReactNode } from "react";
import type { Action } from "../ui/actions";
import { Folded } from "../ui/Folded";
import { useIsSmall } from "../ui/small";
import { t, tn } from "../words";
import css from "./plan.module.css";

/** What can be done with the sheets selected. */
export function PlanTools({
  count,
  actions,
  children,
}: {
  count: number;
  actions: readonly Action[];
  children: ReactNode;
}) {
  const isSmall = useIsSmall();
  return (
    <div className={css.tools} role="toolbar" aria-label={t("Sheets selected")}>
      {count === 0 ? (
        <span>{t("Click a sheet to select it. Double-click opens it on the bench.")}</span>
      ) : (
        <>
          <span className="num">{tn(count, "{n} sheet selected", "{n} sheets selected")}</span>
          <Folded when={isSmall} label={t("Sheets")} size="compact-sm">
            {actions.map(({ label, isOff, run, keys }) => (
              <Tooltip key={label} label={keys} disabled={!keys}>
                <Button size="compact-sm" variant="default" disabled={isOff} onClick={run}>
                  {label}
                </Button>
              </Tooltip>
            ))}
          </Folded>
        </>
      )}
      {children}
    </div>
  );
}
