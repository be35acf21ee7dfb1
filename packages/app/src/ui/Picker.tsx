import type { Option } from './controls';

/** One of many: a list that opens. */
export function Picker<T extends string>(props: {
  label: string;
  value: T;
  options: (Option<T> & { label: string })[];
  onChange: (value: T) => void;
  className?: string;
}) {
  return (
    <select
      aria-label={props.label}
      value={props.value}
      onChange={(e) => props.onChange(e.currentTarget.value as T)}
      className={`border border-ink bg-paper px-1 py-0.5 font-semibold text-ink ${props.className ?? ''}`}
    >
      {props.options.map((o) => (
        <option key={o.value} value={o.value} disabled={o.disabled}>
          {o.label}
        </option>
      ))}
    </select>
  );
}
