import { create } from 'zustand';

/** What is told of the control in hand; nothing while none is. */
export const useHelp = create<{ name?: string; says?: string }>(() => ({}));

/** Handlers that tell what a control does while it is pointed at or has the focus. */
export function helpOf(name: string, says: string | undefined) {
  if (says === undefined) return {};
  const tell = (): void => useHelp.setState({ name, says });
  const end = (): void => {
    if (useHelp.getState().says === says) useHelp.setState({ name: undefined, says: undefined });
  };
  return { onPointerEnter: tell, onPointerLeave: end, onFocus: tell, onBlur: end };
}
