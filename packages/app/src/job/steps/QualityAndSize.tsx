import { NumberControl } from '../../ui/controls';

interface Chosen {
  /** 1 to 100. */
  quality: number;
  /** Size per full size, up to 1. */
  scale: number;
}

/** How good and how large what is written is to be. `of` sets two of them on one page apart. */
export function QualityAndSize<T extends Chosen>(props: {
  of?: string;
  options: T;
  normal: number;
  lossless: boolean;
  onChange: (options: T) => void;
}) {
  const { of, options, normal, lossless, onChange } = props;
  const named = (what: string): string => (of ? `${of} ${what}` : what.charAt(0).toUpperCase() + what.slice(1));
  return (
    <>
      <NumberControl
        label={named('quality')}
        value={options.quality}
        normal={normal}
        min={30}
        max={100}
        step={1}
        disabled={lossless}
        onCommit={(quality) => onChange({ ...options, quality })}
      />
      <NumberControl
        label={named('size')}
        value={100 * options.scale}
        normal={100}
        min={10}
        max={100}
        step={1}
        unit="%"
        onCommit={(v) => onChange({ ...options, scale: v / 100 })}
      />
    </>
  );
}
