/** A file or a wish that was refused, with a sentence. */
export class Refused extends Error {
  override name = 'Refused';
}
