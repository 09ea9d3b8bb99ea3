import type { At } from "../study/document/addresses";
import { parseDate, parseTime } from "../study/values/days";
import { type Parsed, parseDuration } from "../study/values/durations";
import { numberBetween, readName, ValueField } from "../ui/ValueField";
import { Marked } from "./Marked";
import { useField } from "./useField";

interface AtProps {
  at: At;
  label: string;
}

interface ReadAtProps extends AtProps {
  parse: (text: string) => Parsed<string>;
  /** What stands there where nothing is written. */
  fallback?: string;
  suffix?: string;
  /** How what stands there is written for people, where that is not as it is kept. */
  shown?: (value: string) => string;
  /** Whether a lever may drive it. */
  varies?: boolean;
}

/** A text of the study, typed in place. */
export function ReadAt({ at, label, parse, fallback = "", suffix, shown = (value) => value, varies = false }: ReadAtProps) {
  const field = useField<string>(at);
  return (
    <Marked at={at} label={label} shown={(value) => shown(String(value))} varies={varies}>
      <ValueField
        at={at}
        label={label}
        value={field.various ? "" : shown(field.value ?? fallback)}
        placeholder={field.various ? "various" : undefined}
        parse={parse}
        suffix={suffix}
        onCommit={(value) => field.set(value)}
      />
    </Marked>
  );
}

export const NameAt = (props: AtProps) => <ReadAt {...props} parse={readName} />;

export const DurationAt = (props: AtProps & { fallback?: string }) => <ReadAt {...props} parse={parseDuration} varies />;

export const TimeAt = (props: AtProps) => <ReadAt {...props} parse={parseTime} varies />;

export const DateAt = (props: AtProps) => <ReadAt {...props} parse={parseDate} />;

export const MomentAt = (props: AtProps & { fallback?: string }) => (
  <ReadAt {...props} parse={parseMoment} shown={(moment) => moment.replace("T", " ")} />
);

interface NumberAtProps extends AtProps {
  low: number;
  high: number;
  whole?: boolean;
  fallback?: number;
  suffix?: string;
  /** Shown as a percentage, kept as a fraction. */
  percent?: boolean;
}

/** A number of the study, typed in place; where it goes back to what stands there anyway, it is taken out of the document. */
export function NumberAt({ at, label, low, high, whole, fallback, suffix, percent }: NumberAtProps) {
  const field = useField<number>(at);
  const factor = percent ? 100 : 1;
  const shown = field.value ?? fallback;
  const written = (value: number) => String(Number((value * factor).toPrecision(12)));
  const unit = suffix ?? (percent ? "%" : undefined);
  return (
    <Marked at={at} label={label} shown={(value) => [written(Number(value)), unit].filter(Boolean).join(" ")}>
      <ValueField
        at={at}
        label={label}
        value={field.various || shown === undefined ? "" : written(shown)}
        placeholder={field.various ? "various" : undefined}
        suffix={unit}
        parse={numberBetween(low * factor, high * factor, whole)}
        onCommit={(typed) => {
          const number = Number((Number(typed) / factor).toPrecision(12));
          if (number === fallback) field.clear(number);
          else field.set(number);
        }}
      />
    </Marked>
  );
}

/** Reads a date with a time of day; without one, midnight. */
function parseMoment(text: string): Parsed<string> {
  const [day = "", time = "00:00"] = text.trim().split(/[T\s]+/);
  const [date, hour] = [parseDate(day), parseTime(time.replace(/:00$/, (zero) => (time.split(":").length > 2 ? "" : zero)))];
  if ("problem" in date) return date;
  return "problem" in hour ? hour : { value: `${date.value}T${hour.value}` };
}
