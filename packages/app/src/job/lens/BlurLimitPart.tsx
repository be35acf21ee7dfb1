import { Part } from '../../ui/controls';
import { Picker } from '../../ui/Picker';
import { nameOf } from '../bench/cards';
import { backgroundCard } from '../edit';
import { useRecipe } from '../jobContext';
import { LimitControls } from '../match/LimitControls';
import { ofBlurLimit } from '../match/parts';
import { useTool } from '../useTool';
import { useViewOf } from '../viewStore';
import { say } from '../../words/say';

/** Where a card has its whole blur: graduated over the picture, painted, or within a kept matte. */
export function BlurLimitPart() {
  const recipe = useRecipe();
  const { grading, set } = useViewOf('grading', 'set');
  const card = recipe.cards.find((c) => c.id === grading) ?? backgroundCard(recipe);
  const tool = useTool({ compare: 'whole', picture: 'finished', limiting: 'blur', ...(card && { grading: card.id }) });
  if (!card) return null;
  const part = ofBlurLimit(card.id);
  const { matte, graduated, painted } = part.read(recipe);
  const limited = matte !== null || graduated !== null || painted.length > 0;
  return (
    <Part title="Where it is blurred" figure={limited ? say('in part') : say('everywhere')}>
      <div className="flex items-center gap-1.5">
        <span className="text-faint">{say('the blur of')}</span>
        <Picker
          label={say('Card whose blur is limited')}
          value={card.id}
          options={recipe.cards.map((c) => ({ value: c.id, label: nameOf(c) }))}
          onChange={(id) => set({ grading: id })}
        />
      </div>
      <LimitControls part={part} tool={tool} paint={say('Paint where')} />
      <p className="mt-1.5 text-faint">
        {say(
          'Where it is painted, or at the full end of the line, the card has all of its blur; elsewhere it is sharp, and in between it has a share.',
        )}
      </p>
    </Part>
  );
}
