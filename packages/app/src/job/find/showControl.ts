import { holdersOf, nameOfControl } from './names';

/** Time until a step and its controls must be there, ms. */
const patience = 5000;

/** Waits for a control of a step to be drawn, opens the part it is folded in, brings it into sight and gives it the focus. */
export async function showControl(step: string, part: string, name: string): Promise<void> {
  const until = performance.now() + patience;
  const drawn = (): Promise<unknown> => new Promise(requestAnimationFrame);
  while (performance.now() < until) {
    await drawn();
    if (!location.pathname.endsWith(`/${step}`)) continue;
    const section = document.querySelector(`aside section[aria-label=${JSON.stringify(part)}]`);
    if (!section) continue;
    const folded = section.querySelector<HTMLElement>('button[data-state=closed][aria-expanded=false]');
    if (folded) {
      folded.click();
      await drawn();
    }
    const control = holdersOf(section).find((e) => nameOfControl(e) === name) ?? section.querySelector<HTMLElement>('button,input,select');
    if (!control) continue;
    control.scrollIntoView({ block: 'center' });
    // As by the keyboard, so that it is seen where it is.
    control.focus({ focusVisible: true } as FocusOptions);
    return;
  }
}
