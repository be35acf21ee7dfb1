/** What of a part of the controls can be given the focus. */
export function holdersOf(section: Element): HTMLElement[] {
  return [...section.querySelectorAll<HTMLElement>('button, input, select, [role=slider], [role=radio]')];
}

/** The name of a control as people read it; nothing of what has none, or one of its own for every job. */
export function nameOfControl(element: HTMLElement): string | undefined {
  return plainName(
    element.dataset.name ?? element.getAttribute('aria-label') ?? element.closest('label')?.textContent ?? element.textContent ?? '',
  );
}

/** A control's name without what belongs to a moment; nothing where that is all of it. */
export function plainName(named: string): string | undefined {
  const name = named.trim();
  // Names with figures in them, or that tell a state, are of one job or moment.
  return name.length < 2 || name.length > 36 || /\d|: |^[+−]|^Hold|^Drop|^Take |px$|before|^Sound of|\.\w{2,4}$/.test(name)
    ? undefined
    : name;
}
