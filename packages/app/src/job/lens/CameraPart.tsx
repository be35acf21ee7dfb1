import { cameraRests, type Recipe } from '@ritaglio/core';
import { Part } from '../../ui/controls';
import { useRecipe } from '../jobContext';
import { ParameterControl } from '../ParameterControl';
import { useEdit, type PartOf } from '../useEdit';
import { say } from '../../words/say';

const theCamera: PartOf<Recipe['camera']> = { of: 'camera', read: (r) => r.camera, write: (r, camera) => ({ ...r, camera }) };

/** Where the camera is and how it is turned; only in jobs that have time. What is near moves more than what is far. */
export function CameraPart() {
  const { time } = useRecipe();
  const { value, number } = useEdit(theCamera);
  if (!time) return null;
  return (
    <Part title="Camera" figure={cameraRests(value) ? say('where it was') : say('moved')}>
      <ParameterControl {...number('x', 'camera.x')} />
      <ParameterControl {...number('y', 'camera.y')} />
      <ParameterControl {...number('z', 'camera.z')} />
      <ParameterControl {...number('pan', 'camera.pan')} />
      <ParameterControl {...number('tilt', 'camera.tilt')} />
      <ParameterControl {...number('roll', 'camera.roll')} />
      <p className="mt-1.5 text-faint">
        {say(
          'Give it a point at two frames (the square, or K) and it glides; what is near passes what is far as it truly would, within a picture too where it has distances of its own.',
        )}
      </p>
    </Part>
  );
}
