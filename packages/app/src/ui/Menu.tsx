import { DropdownMenu } from 'radix-ui';
import { Button } from './Button';

/** A press that opens a list of things to do: one is done when it is chosen, not when it is moved over. */
export function Menu<T extends string>(props: {
  label: string;
  text: string;
  options: { value: T; label: string }[];
  onChoose: (value: T) => void;
}) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>
        <Button aria-label={props.label} disabled={props.options.length === 0}>
          {props.text}
        </Button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" className="z-30 max-h-80 overflow-y-auto border border-ink bg-paper py-1">
          {props.options.map((o) => (
            <DropdownMenu.Item
              key={o.value}
              className="cursor-pointer px-3 py-1 outline-none data-[highlighted]:bg-ink data-[highlighted]:text-paper"
              onSelect={() => props.onChoose(o.value)}
            >
              {o.label}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
