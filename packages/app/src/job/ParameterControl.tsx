import { parameters, type Parameter, type ParameterKey } from '@ritaglio/core';
import { NumberControl } from '../ui/controls';
import { say, told } from '../words/say';

/** What a control of a parameter is given; values as the recipe holds them. */
export interface ParameterProps {
  param: ParameterKey;
  value: number;
  onCommit: (value: number) => void;
  /** While dragging; without it dragging only commits. */
  onPreview?: (value: number) => void;
  /** Its place in the recipe: it can be keyed over time. */
  of?: string;
  disabled?: boolean;
  /** Where this one is called otherwise, begins otherwise, or its slider reaches elsewhere. */
  label?: string;
  normal?: number;
  min?: number;
  max?: number;
}

/** A number of the recipe, from the table of parameters: its slider, its field, its name and what it does. */
export function ParameterControl({ param, value, onCommit, onPreview, label, normal, min, max, ...rest }: ParameterProps) {
  const p: Parameter = parameters[param];
  const times = p.times ?? 1;
  const shown = (v: number): number => Number((v * times).toPrecision(12));
  // Where the least itself is no longer possible nothing below the slider is taken.
  const least = p.above ? p.min : (p.least ?? p.min);
  return (
    <NumberControl
      label={label ?? say(p.label)}
      help={say(p.help)}
      value={value * times}
      normal={shown(normal ?? p.default)}
      min={shown(min ?? p.min)}
      max={shown(max ?? p.max)}
      least={shown(Math.min(least, min ?? p.min))}
      most={shown(Math.max(p.most ?? p.max, max ?? p.max))}
      step={shown(p.step)}
      unit={told(p.unit)}
      digits={p.digits}
      prefix={p.prefix}
      logarithmic={p.scale === 'logarithmic'}
      onCommit={(v) => onCommit(v / times)}
      {...(onPreview && { onPreview: (v: number) => onPreview(v / times) })}
      {...rest}
    />
  );
}
