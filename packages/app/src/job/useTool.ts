import { useViewOf, type BenchTool, type ViewState } from './viewStore';

/** What a press that takes a tool in hand is given. */
export interface ToolPress {
  strong: boolean;
  'aria-pressed': boolean;
  onClick: () => void;
}

/**
 * Presses that take a tool in hand for the picture, and lay it down again.
 *
 * @param view what of the view changes with it
 * @param rest the tool that is in hand afterwards
 */
export function useTool(view: Partial<ViewState> = {}, rest: BenchTool = 'look'): (tool: BenchTool) => ToolPress {
  const { benchTool, set } = useViewOf('benchTool', 'set');
  return (tool) => ({
    strong: benchTool === tool,
    'aria-pressed': benchTool === tool,
    onClick: () => set({ benchTool: benchTool === tool ? rest : tool, ...view }),
  });
}

/** The same in the match step, whose tools work on the finished picture. */
export function useMatchTool(): (tool: BenchTool) => ToolPress {
  return useTool({ compare: 'whole', picture: 'finished' });
}
