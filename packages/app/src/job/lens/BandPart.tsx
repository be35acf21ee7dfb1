import type { Card } from '@ritaglio/core';
import { useState } from 'react';
import { Button } from '../../ui/Button';
import { Part } from '../../ui/controls';
import { Picker } from '../../ui/Picker';
import { nameOf } from '../bench/cards';
import { backgroundCard } from '../edit';
import { useRecipe } from '../jobContext';
import { ParameterControl } from '../ParameterControl';
import { theCard, useEdit } from '../useEdit';
import { figured, say } from '../../words/say';

type Band = NonNullable<Card['band']>;

/** A straight band that stays sharp on one card, whatever stands where. */
export function BandPart() {
  const recipe = useRecipe();
  const [chosen, choose] = useState<string>();
  const card = recipe.cards.find((c) => c.id === chosen) ?? recipe.cards.find((c) => c.band) ?? backgroundCard(recipe);
  if (!card) return null;
  return <BandOf card={card} choose={choose} />;
}

function BandOf({ card, choose }: { card: Card; choose: (id: string) => void }) {
  const { cards, frame } = useRecipe();
  const { value, preview, commit } = useEdit(theCard(card));
  const { band } = value;
  const fresh: Band = { x: frame.width / 2, y: frame.height * 0.7, turn: 0, sharp: frame.height * 0.2, soft: frame.height * 0.3, blur: 40 };
  const part = (key: keyof Band) => ({
    param: `band.${key}` as const,
    value: band![key],
    normal: fresh[key],
    onPreview: (v: number) => preview({ band: { ...band!, [key]: v } }),
    onCommit: (v: number) => commit({ band: { ...band!, [key]: v } }),
  });
  return (
    <Part title="Band of sharpness" figure={band ? say('{sharp} px sharp', { sharp: figured(band.sharp, 0) }) : undefined}>
      <div className="flex items-center gap-1.5">
        <span className="text-faint">{say('on')}</span>
        <Picker
          label={say('Card with the band')}
          value={card.id}
          options={cards.map((c) => ({ value: c.id, label: nameOf(c) }))}
          onChange={choose}
        />
        <Button onClick={() => commit({ band: band ? null : fresh })}>{band ? say('Take it off') : say('Set a band')}</Button>
      </div>
      {band ? (
        <div className="mt-1.5">
          <ParameterControl {...part('x')} max={frame.width} />
          <ParameterControl {...part('y')} max={frame.height} />
          <ParameterControl {...part('turn')} />
          <ParameterControl {...part('sharp')} max={frame.height} />
          <ParameterControl {...part('soft')} max={frame.height} />
          <ParameterControl {...part('blur')} />
        </div>
      ) : (
        <p className="mt-1.5 text-faint">
          {say('Keeps a straight stretch of the card sharp, soft towards both sides, instead of blurring by distance.')}
        </p>
      )}
    </Part>
  );
}
