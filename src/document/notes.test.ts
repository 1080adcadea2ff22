import { addStep, addPiece, newProject, pieceOf } from './changes';
import { addNote, setNote } from './notes';
import { checkDocument } from './schema';

const project = () => {
  const d = newProject('Quay', 'game', 'm');
  addPiece(d, 'p', 'post');
  addStep(d, 'p', 'box', 'b');
  return d;
};
const note = (id: string, text = 'Mind the bolts.') => ({ id, text, beside: 'b', x: 250, y: 10 });

test('a note lies beside a step, is moved and written anew, and goes when it is emptied', () => {
  const d = project();
  addNote(d, 'p', note('n'));
  addNote(d, 'p', note('m', 'x'.repeat(5000)));
  setNote(d, 'p', 'n', { text: ' Bolts: M8. ', x: 12 });
  expect(pieceOf(d, 'p').notes).toMatchObject([
    { id: 'n', text: 'Bolts: M8.', beside: 'b', x: 12, y: 10 },
    { id: 'm', text: 'x'.repeat(2000) },
  ]);
  expect(checkDocument(structuredClone(d)).pieces[0].notes).toHaveLength(2);
  setNote(d, 'p', 'm', { text: '  ' });
  setNote(d, 'p', 'gone', { text: 'nothing' });
  setNote(d, 'p', 'n', { text: '' });
  expect(pieceOf(d, 'p')).not.toHaveProperty('notes');
});

test('there is an end to how many', () => {
  const d = project();
  for (let i = 0; i < 200; i++) addNote(d, 'p', note(`n${i}`));
  expect(() => addNote(d, 'p', note('one more'))).toThrow('200');
  checkDocument(structuredClone(d));
});
