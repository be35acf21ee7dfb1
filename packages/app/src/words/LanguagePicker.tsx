import { refuse } from '../ui/refuse';
import { Picker } from '../ui/Picker';
import { chosenLanguage, chooseLanguage, languages, type Language } from './language';
import { say } from './say';

/** The language of the interface, each by its own name. */
export function LanguagePicker() {
  return (
    <Picker<Language>
      label={say('Language')}
      value={chosenLanguage()}
      options={Object.entries(languages).map(([value, label]) => ({ value: value as Language, label }))}
      onChange={(to) => void chooseLanguage(to).catch(refuse)}
    />
  );
}
