import { NumberControl } from '../../ui/controls';
import { say } from '../../words/say';

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
  return (
    <>
      <NumberControl
        label={of ? say('{of} quality', { of }) : say('Quality')}
        value={options.quality}
        normal={normal}
        min={30}
        max={100}
        step={1}
        disabled={lossless}
        onCommit={(quality) => onChange({ ...options, quality })}
      />
      <NumberControl
        label={of ? say('{of} size', { of }) : say('Size')}
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
