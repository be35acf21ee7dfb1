import { ParameterControl } from '../ParameterControl';
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
      <ParameterControl
        param="export.quality"
        {...(of && { label: say('{of} quality', { of }) })}
        value={options.quality}
        normal={normal}
        disabled={lossless}
        onCommit={(quality) => onChange({ ...options, quality })}
      />
      <ParameterControl
        param="export.scale"
        {...(of && { label: say('{of} size', { of }) })}
        value={options.scale}
        onCommit={(scale) => onChange({ ...options, scale })}
      />
    </>
  );
}
