'use client';
/** Everything one can begin with: bodies, a picture, a file, the library. */
import {
  IconBooks,
  IconBox,
  IconCircleDashed,
  IconCylinder,
  IconFileImport,
  IconLine,
  IconPhoto,
  IconSphere,
  IconSquare,
  IconShape,
} from '@tabler/icons-react';
import { useRef } from 'react';
import { ACCEPT_MODELS, ACCEPT_PICTURES } from '../../core/formats/kinds';
import { isStart } from '../../core/recipe/define';
import { stepDefs } from '../../core/steps';
import { addPiece } from './actions';
import { importFiles } from './gather/arrivals';
import { bench } from './store';

const ICONS: Readonly<Record<string, typeof IconBox>> = {
  box: IconBox,
  cylinder: IconCylinder,
  sphere: IconSphere,
  plane: IconSquare,
  line: IconLine,
  section: IconCircleDashed,
};

function Card({
  icon,
  title,
  text,
  onClick,
}: {
  icon: React.ReactNode;
  title: string;
  text: string;
  onClick: () => void;
}) {
  return (
    <button
      className="card card-border flex-col items-start gap-1 border-line bg-base-100 p-3 text-left hover:border-value hover:bg-wash"
      onClick={onClick}
    >
      <span className="text-value">{icon}</span>
      <b className="font-semibold first-letter:uppercase">{title}</b>
      <span className="quiet text-[12px] leading-4">{text}</span>
    </button>
  );
}

export function StartList({ done = () => {} }: { done?: () => void }) {
  const file = useRef<HTMLInputElement>(null);
  const picture = useRef<HTMLInputElement>(null);
  const take = (e: React.ChangeEvent<HTMLInputElement>) => {
    const files = [...(e.target.files ?? [])];
    e.target.value = '';
    done();
    void importFiles(files);
  };
  return (
    <div className="grid grid-cols-[repeat(auto-fill,minmax(132px,1fr))] gap-2" role="group" aria-label="Start with">
      {stepDefs()
        .filter((d) => isStart(d) && !d.hidden)
        .map((d) => {
          const Shape = ICONS[d.kind] ?? IconShape;
          return (
            <Card
              key={d.kind}
              icon={<Shape size={22} stroke={1.6} />}
              title={d.kind}
              text={d.help}
              onClick={() => {
                done();
                addPiece(d.kind);
              }}
            />
          );
        })}
      <Card
        icon={<IconPhoto size={22} stroke={1.6} />}
        title="From a picture"
        text="A drawing or photograph to build on, made true to scale"
        onClick={() => picture.current?.click()}
      />
      <Card
        icon={<IconFileImport size={22} stroke={1.6} />}
        title="From a file"
        text="A model from elsewhere, with its materials"
        onClick={() => file.current?.click()}
      />
      <Card
        icon={<IconBooks size={22} stroke={1.6} />}
        title="From the library"
        text="Something that was kept for any project"
        onClick={() => {
          done();
          bench.set({ drawer: true });
        }}
      />
      <input ref={file} type="file" multiple hidden accept={ACCEPT_MODELS} aria-label="Model file" onChange={take} />
      <input ref={picture} type="file" multiple hidden accept={ACCEPT_PICTURES} aria-label="Picture" onChange={take} />
    </div>
  );
}
