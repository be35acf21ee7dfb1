import type { Recipe } from '@ritaglio/core';
import { Part } from '../../ui/controls';
import { useRecipe } from '../jobContext';
import { ParameterControl } from '../ParameterControl';
import { useEdit, type PartOf } from '../useEdit';
import { say } from '../../words/say';

const theCamera: PartOf<Recipe['camera']> = { of: 'camera', read: (r) => r.camera, write: (r, camera) => ({ ...r, camera }) };

/** Where the camera is; only in jobs that have time. What is near moves more than what is far. */
export function CameraPart() {
  const { time } = useRecipe();
  const { value, number } = useEdit(theCamera);
  if (!time) return null;
  const rests = value.x === 0 && value.y === 0 && value.z === 0;
  return (
    <Part title="Camera" figure={rests ? say('where it was') : say('moved')}>
      <ParameterControl {...number('x', 'camera.x')} />
      <ParameterControl {...number('y', 'camera.y')} />
      <ParameterControl {...number('z', 'camera.z')} />
      <p className="mt-1.5 text-faint">
        {say('Give it a point at two frames (the square, or K) and it glides; cards pass each other as they truly would.')}
      </p>
    </Part>
  );
}
