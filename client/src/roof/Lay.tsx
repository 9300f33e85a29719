import { nameIn, type Model, type MixedSpot, type Roof, type RoofAnswer } from '@true-lantern/core';
import { View } from 'react-native';
import { modulesToLay, type ModuleToLay } from '../data/roofs';
import type { OpenSite } from '../data/site';
import { Button } from '../ui/controls';
import { T } from '../ui/text';
import { useAnswer } from '../workers/engine';

interface Props {
  site: OpenSite;
  /** The system with the roof as it is seen: some obstacles may be tried away. */
  model: Model;
  roof: Roof;
  answer: RoofAnswer;
  write(what: string, set: Partial<Roof>): void;
}

/** The best placing that was found, for the modules that are there: of one size, or of several. */
export function Lay(props: Props) {
  const { site, roof, answer, write } = props;
  const modules = modulesToLay(site, roof);
  const types = new Set(modules.map(({ type }) => type));
  if (types.size > 1) return <LaySeveral model={props.model} roof={roof} write={write} modules={modules} />;
  const own = modules.filter(({ type }) => type === answer.module);
  if (own.length === 0)
    return (
      <T className="px-[18px] pt-3" look="fact">
        No array has such modules yet. Add one in Survey, or more modules in Plan.
      </T>
    );
  return (
    <Place
      modules={own}
      spots={answer.fit.placed.map((spot) => ({ ...spot, module: answer.module }))}
      label={(count) => `Place ${count === 1 ? 'the module' : `${count} modules`} like that`}
      write={write}
    />
  );
}

/** Modules of several sizes: what was found for those that are there, by watts. */
function LaySeveral({
  model,
  roof,
  modules,
  write,
}: Pick<Props, 'model' | 'roof' | 'write'> & { modules: readonly ModuleToLay[] }) {
  const counts: Record<string, number> = {};
  for (const { type } of modules) counts[type] = (counts[type] ?? 0) + 1;
  const { data } = useAnswer<'lay'>({ ask: 'lay', model, roof: roof.id, counts });
  const fits = (data?.kinds ?? []).map(
    ({ module, count }) => `${count} of ${counts[module] ?? 0} ${nameIn(model, module)}`,
  );
  return (
    <View testID="several-sizes">
      <T className="px-[18px] pt-3" look="fact">
        {data
          ? `Modules of several sizes: ${fits.join(', ')} find a place${data.proved ? '' : ', as far as was tried'}.`
          : 'Trying places for modules of several sizes ...'}
      </T>
      {data ? (
        <Place
          modules={modules}
          spots={data.placed}
          label={(count) => `Place ${count} modules of several sizes`}
          write={write}
        />
      ) : null}
    </View>
  );
}

interface PlaceProps {
  modules: readonly ModuleToLay[];
  spots: readonly MixedSpot[];
  label(count: number): string;
  write: Props['write'];
}

function Place({ modules, spots, label, write }: PlaceProps) {
  const left = [...modules];
  const placed = spots.flatMap(({ module, x, y, turned }) => {
    const at = left.findIndex(({ type }) => type === module);
    if (at < 0) return [];
    return left.splice(at, 1).map(({ arrayId, string, index }) => ({ arrayId, string, index, x, y, turned }));
  });
  const count = placed.length;
  if (count === 0) return null;
  return (
    <View className="gap-1 px-[18px] pt-4">
      <Button label={label(count)} onPress={() => write(`${count} modules placed`, { placed })} />
      {left.length > 0 ? <T look="fact">{`${left.length} of ${modules.length} modules find no place here.`}</T> : null}
    </View>
  );
}
