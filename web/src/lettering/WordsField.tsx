import { ActionIcon, Button, Menu, Textarea, Tooltip } from "@mantine/core";
import IconBold from "@tabler/icons-react/icons/IconBold";
import IconItalic from "@tabler/icons-react/icons/IconItalic";
import { useRef, useState } from "react";
import type { Text } from "../api/client";
import { useKept } from "../editing/kept";
import type { View } from "../editing/view";
import { ColourField } from "../ui/colour/ColourField";
import { NumberField } from "../ui/NumberField";
import { t } from "../words";
import { FontChooser } from "./FontChooser";
import { FIELDS } from "./fields";
import css from "./lettering.module.css";
import { applied, common, type Look, letters, type Run, shifted } from "./runs";

interface Words {
  text: string;
  runs: readonly Run[];
}

/**
 * The words of a box. What is marked in them can look otherwise than the box; what they name in braces comes from the
 * order, the sheet, its photo or the studio card.
 */
export function WordsField({
  state,
  id,
  box,
  words,
  placeholder,
  onKeep,
  onFocus,
}: {
  state: View;
  id?: string;
  box: Text;
  words: Words;
  placeholder?: string;
  onKeep: (words: Words, gesture: string) => void;
  onFocus?: () => void;
}) {
  const { shown, change } = useKept<Words>(words, onKeep, 300);
  const [mark, setMark] = useState<[number, number]>([0, 0]);
  const area = useRef<HTMLTextAreaElement>(null);
  const typed = (text: string) => change({ text, runs: shifted(shown.runs, shown.text, text) });
  const count = letters(shown.text);
  const [start, end] = [Math.min(mark[0], count), Math.min(mark[1], count)];
  const put = (look: Parameters<typeof applied>[4]) =>
    change({ text: shown.text, runs: applied(shown.runs, count, start, end, look) });
  const insert = (field: string) => {
    const caret = area.current?.selectionStart ?? shown.text.length;
    const to = area.current?.selectionEnd ?? caret;
    typed(`${shown.text.slice(0, caret)}{${field}}${shown.text.slice(to)}`);
    requestAnimationFrame(() => {
      area.current?.focus();
      area.current?.setSelectionRange(caret + field.length + 2, caret + field.length + 2);
    });
  };
  const fieldNames = Object.keys({ ...state.job.fields, ...state.own.fields, ...state.sheet.fields });
  return (
    <div>
      <Textarea
        id={id}
        ref={area}
        size="xs"
        aria-label={t("Words")}
        autosize
        minRows={2}
        maxRows={6}
        maxLength={5000}
        placeholder={placeholder}
        value={shown.text}
        onChange={(event) => typed(event.currentTarget.value)}
        onFocus={onFocus}
        onSelect={(event) => {
          const { value, selectionStart, selectionEnd } = event.currentTarget;
          setMark([letters(value, selectionStart), letters(value, selectionEnd)]);
        }}
      />
      <div className={css.marked}>
        <Menu position="bottom-start" shadow="md">
          <Menu.Target>
            <Button size="compact-xs" variant="default">
              {t("Insert field…")}
            </Button>
          </Menu.Target>
          <Menu.Dropdown className={css.menu}>
            {[...FIELDS, ...fieldNames.map((name) => [name, t("said of this order")] as const)].map(
              ([name, what]) => (
                <Menu.Item
                  key={name}
                  onClick={() => insert(name)}
                  rightSection={<small className={css.what}>{what}</small>}
                >{`{${name}}`}</Menu.Item>
              ),
            )}
          </Menu.Dropdown>
        </Menu>
      </div>
      {end > start && (
        <Marked
          state={state}
          box={box}
          look={common(shown.runs, count, start, end)}
          count={end - start}
          onPut={put}
        />
      )}
    </div>
  );
}

/** How the marked words look, where that is not as their box. */
function Marked({
  state,
  box,
  look,
  count,
  onPut,
}: {
  state: View;
  box: Text;
  look: Look;
  count: number;
  onPut: (look: Parameters<typeof applied>[4]) => void;
}) {
  const bold = (look.weight ?? box.weight ?? 400) >= 600;
  const slant = look.slant ?? box.slant ?? false;
  const styles = Object.keys(state.layout.styles ?? {}).sort();
  return (
    <fieldset className={css.marked} aria-label={t("Selected text")}>
      <small>
        {count} {count === 1 ? t("letter") : t("letters")} {t("marked")}
      </small>
      <Tooltip label={t("Bold")}>
        <ActionIcon
          variant={bold ? "filled" : "default"}
          aria-label={t("Bold")}
          aria-pressed={bold}
          onClick={() => onPut({ weight: bold ? 400 : 700 })}
        >
          <IconBold size={16} />
        </ActionIcon>
      </Tooltip>
      <Tooltip label={t("Italic")}>
        <ActionIcon
          variant={slant ? "filled" : "default"}
          aria-label={t("Italic")}
          aria-pressed={slant}
          onClick={() => onPut({ slant: !slant })}
        >
          <IconItalic size={16} />
        </ActionIcon>
      </Tooltip>
      <div className={css.size}>
        <NumberField
          bare
          label={t("Size of the marked words")}
          unit="pt"
          min={1}
          max={1000}
          step={0.5}
          value={look.size_pt ?? box.size_pt ?? 12}
          onKeep={(size_pt) => onPut({ size_pt })}
        />
      </div>
      {styles.map((style) => (
        <Button
          key={style}
          size="compact-xs"
          variant={look.style === style ? "filled" : "default"}
          onClick={() => onPut({ style: look.style === style ? undefined : style })}
        >
          {style}
        </Button>
      ))}
      <Button size="compact-xs" variant="subtle" onClick={() => onPut("plain")}>
        {t("As the box")}
      </Button>
      <div className={css.wide}>
        <FontChooser
          state={state}
          label={t("Font of the marked words")}
          value={look.font ?? box.font ?? "Lato"}
          onChange={(font) => onPut({ font })}
        />
        <ColourField
          state={state}
          bare
          label={t("Colour of the marked words")}
          value={look.colour ?? box.colour ?? "#222222"}
          onChange={(colour) => onPut({ colour })}
        />
      </div>
    </fieldset>
  );
}
