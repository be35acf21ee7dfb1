import { create } from 'zustand';

/** What is told of one control. */
interface Told {
  name: string;
  says: string;
}

/** What is told of the control that is pointed at, and of the one that has the focus; nothing while there is none. */
export const useHelp = create<{ pointed?: Told; focused?: Told }>(() => ({}));

/** Handlers that tell what a control does while it is pointed at or has the focus. */
export function helpOf(name: string, says: string | undefined) {
  if (says === undefined) return {};
  const told = { name, says };
  const begin = (by: 'pointed' | 'focused') => (): void => useHelp.setState({ [by]: told });
  const end = (by: 'pointed' | 'focused') => (): void => {
    // Another control may have begun before this one ends.
    if (useHelp.getState()[by]?.says === says) useHelp.setState({ [by]: undefined });
  };
  return { onPointerEnter: begin('pointed'), onPointerLeave: end('pointed'), onFocus: begin('focused'), onBlur: end('focused') };
}
