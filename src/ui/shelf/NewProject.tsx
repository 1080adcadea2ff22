'use client';
import { yupResolver } from '@hookform/resolvers/yup';
import { useRouter } from 'next/navigation';
import { useForm, type UseFormRegisterReturn } from 'react-hook-form';
import * as yup from 'yup';
import { Dialog } from '../parts/Dialog';
import { makeProject, type NewProject as Wanted } from './data';
import { PURPOSES } from './purposes';

const UNITS: readonly (readonly [string, string])[] = [
  ['mm', 'millimetres'],
  ['cm', 'centimetres'],
  ['m', 'metres'],
  ['in', 'inches'],
  ['ft', 'feet'],
];

const schema = yup.object({
  name: yup.string().trim().required('Give it a name.').max(200, 'A name has at most 200 letters.'),
  purpose: yup.string().required(),
  units: yup.string().required(),
});

type Options = readonly (readonly [string, string])[];
const Choose = ({ label, options, field }: { label: string; options: Options; field: UseFormRegisterReturn }) => (
  <label className="flex flex-col gap-1">
    <span className="quiet">{label}</span>
    <select className="select select-sm w-full" {...field}>
      {options.map(([value, text]) => (
        <option key={value} value={value}>
          {text}
        </option>
      ))}
    </select>
  </label>
);

export function NewProject({ close }: { close: () => void }) {
  const router = useRouter();
  const { register, handleSubmit, setError, formState } = useForm<Wanted>({
    resolver: yupResolver(schema),
    defaultValues: { name: '', purpose: 'render', units: 'mm' },
  });
  const { errors, isSubmitting } = formState;
  const make = handleSubmit(async (wanted) => {
    try {
      router.push(`/bench/${(await makeProject(wanted)).id}`);
    } catch (e) {
      setError('root', { message: (e as Error).message });
    }
  });
  const wrong = errors.name?.message ?? errors.root?.message;
  return (
    <Dialog title="New project" onClose={close}>
      <form onSubmit={(e) => void make(e)} className="flex flex-col gap-3" noValidate>
        <label className="flex flex-col gap-1">
          <span className="quiet">Name</span>
          <input
            autoFocus
            className="input input-sm w-full"
            maxLength={200}
            aria-invalid={!!errors.name}
            {...register('name')}
          />
        </label>
        <Choose label="It is made" options={PURPOSES} field={register('purpose')} />
        <Choose label="Measured in" options={UNITS} field={register('units')} />
        {wrong && (
          <p role="alert" className="text-wrong">
            {wrong}
          </p>
        )}
        <div className="mt-2 flex justify-end gap-2">
          <button type="button" className="btn btn-sm" onClick={close}>
            Cancel
          </button>
          <button className="btn btn-sm btn-primary" disabled={isSubmitting}>
            Begin
          </button>
        </div>
      </form>
    </Dialog>
  );
}
