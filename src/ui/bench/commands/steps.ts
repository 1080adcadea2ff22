/** Commands for every kind of step: what there is follows from the steps' own declarations. */
import { isStart } from '../../../core/recipe/define';
import { stepDefs } from '../../../core/steps';
import { addStep } from '../actions';
import { workedOn } from '../store';
import type { Command } from './define';

export const stepCommands = (): Command[] =>
  stepDefs()
    .filter((d) => !d.hidden)
    .map((d) => ({
      id: `step-${d.kind}`,
      title: isStart(d) ? `New piece: ${d.kind}` : `Then: ${d.title.toLowerCase()}`,
      help: d.help,
      words: `${d.words ?? ''} ${isStart(d) ? 'start primitive add create' : 'modifier step'}`,
      when: isStart(d) ? undefined : (s) => workedOn(s)?.kind === 'mesh' || 'Pick a piece to add a step to first.',
      run: () => addStep(d.kind),
    }));
