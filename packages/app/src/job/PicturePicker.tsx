import { useDropzone } from 'react-dropzone';
import { Button } from '../ui/Button';
import { Picker } from '../ui/Picker';
import { useJobPictures } from './steps/PicturesControls';
import { say } from '../words/say';

/** One of the job's pictures, or one that is brought in right here: pressed for, or dropped. */
export function PicturePicker(props: {
  label: string;
  value: string | null;
  /** A picture that is not offered. */
  except?: string;
  onChange: (picture: string | null) => void;
}) {
  const { pictures, bring } = useJobPictures();
  const drop = useDropzone({
    noClick: true,
    noKeyboard: true,
    multiple: false,
    onDrop: (files) => void bring(files).then(([id]) => id && props.onChange(id)),
  });
  return (
    <div {...drop.getRootProps({ role: undefined, tabIndex: undefined })} className="mt-1.5 flex gap-1.5">
      <Picker
        label={props.label}
        className="min-w-0 flex-1"
        value={props.value ?? ''}
        options={[
          { value: '', label: say('None') },
          ...pictures.filter((p) => p.id !== props.except).map((p) => ({ value: p.id, label: p.name })),
        ]}
        onChange={(id) => props.onChange(id || null)}
      />
      <input {...drop.getInputProps({ 'aria-label': say('{label}, a file', { label: props.label }) })} />
      <Button aria-label={say('Bring in: {label}', { label: props.label })} onClick={drop.open}>
        {say('Bring in')}
      </Button>
    </div>
  );
}
