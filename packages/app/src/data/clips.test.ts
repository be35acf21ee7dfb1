import { inOrder, numbered } from './clips';

jest.mock('../worker/renderer', () => ({ renderer: () => ({}), onForgotten: () => undefined }));
jest.mock('./store', () => ({ store: {} }));

const files = (...names: string[]): { name: string }[] => names.map((name) => ({ name }));

test('the last number in a name is what counts', () => {
  expect(numbered('goat-0012.jpg')).toEqual({ stem: 'goat-', number: 12 });
  expect(numbered('0012.png')).toEqual({ stem: '', number: 12 });
  expect(numbered('take 3 frame 7b.png')).toEqual({ stem: 'take 3 frame ', number: 7 });
  expect(numbered('goat.png')).toBeUndefined();
});

test('pictures that go on in numbers are put in order, by number and not by letter', () => {
  expect(inOrder(files('f10.png', 'f9.png', 'f8.png'))?.map((f) => f.name)).toEqual(['f8.png', 'f9.png', 'f10.png']);
});

test.each([
  ['one alone', files('f1.png')],
  ['another name between', files('f1.png', 'g2.png')],
  ['one without a number', files('f1.png', 'f.png')],
  ['a number twice', files('f1.png', 'f01.png')],
  ['no pictures', files('f1.txt', 'f2.txt')],
])('loose pictures are no clip: %s', (_, list) => {
  expect(inOrder(list)).toBeUndefined();
});
