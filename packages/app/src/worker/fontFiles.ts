import alegreyaBold from '@fontsource/alegreya/files/alegreya-latin-700-normal.woff?url';
import alegreya from '@fontsource/alegreya/files/alegreya-latin-400-normal.woff?url';
import caveat from '@fontsource/caveat/files/caveat-latin-700-normal.woff?url';
import schibstedBold from '@fontsource/schibsted-grotesk/files/schibsted-grotesk-latin-700-normal.woff?url';
import schibsted from '@fontsource/schibsted-grotesk/files/schibsted-grotesk-latin-400-normal.woff?url';

/** Where the shipped typefaces are served, by the name a recipe knows them by. */
export const fontFiles: Record<string, string> = {
  schibsted,
  'schibsted-bold': schibstedBold,
  alegreya,
  'alegreya-bold': alegreyaBold,
  caveat,
};
