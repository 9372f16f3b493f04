import { Button } from "@mantine/core";
import IconDownload from "@tabler/icons-react/icons/IconDownload";
import { useState } from "react";
import { Link } from "wouter";
import { Kept } from "../bench/Kept";
import { jobAddress } from "../editing/addresses";
import { flush } from "../editing/flushing";
import { jobStore } from "../editing/jobs";
import type { View } from "../editing/view";
import { t } from "../words";
import css from "./dispatch.module.css";

/** Whose job it is, where one goes back to, and the job as a file. */
export function DispatchHead({ state, edition }: { state: View; edition: string }) {
  const [bundling, setBundling] = useState(false);
  return (
    <header className={css.head}>
      <Link href="/">{t("Shelf")}</Link>
      <Link href={jobAddress(state.id, { edition })}>{t("Back to the bench")}</Link>
      <div className={css.title}>
        <h1 className="heading">{state.job.name}</h1>
        <span>
          {[
            state.job.customer,
            state.job.order_number,
            state.job.editions.length > 1 && state.own.name,
            (state.own.copies ?? 1) > 1 && `${state.own.copies} copies`,
          ]
            .filter(Boolean)
            .join(" · ")}
        </span>
      </div>
      <Kept job={state.id} />
      <Button
        variant="default"
        leftSection={<IconDownload size={15} />}
        loading={bundling}
        onClick={async () => {
          // What is still on its way belongs into it.
          setBundling(true);
          flush();
          await jobStore(state.id).settled();
          setBundling(false);
          window.location.assign(`/api/jobs/${state.id}/bundle`);
        }}
      >
        {t("Save bundle")}
      </Button>
    </header>
  );
}
