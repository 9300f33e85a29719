import { counted, runPlace, type Cut, type Model, type Work } from '@true-lantern/core';
import { ScrollView, View } from 'react-native';
import { useUnits } from '../data/units';
import { Plain } from '../ui/controls';
import { Heading, T } from '../ui/text';
import { inUnits, sizeText } from '../ui/units';

/** Where a cable that is cut goes: "Controller to bank". */
export const cutPlace = ({ system }: Model, { run: id }: Cut): string => {
  const run = system.runs?.find((one) => one.id === id);
  return run ? runPlace(system, run) : 'A cable';
};

/** Cables to be cut, by the coil that they come from, with what is left over. */
export function Cuts({ work, after }: { work: Work; after: Model }) {
  const units = useUnits();
  if (work.cuts.length === 0) return <Plain title="No cable is cut." text="All cables stay as they are." />;
  return (
    <ScrollView>
      <View className="max-w-[860px] pb-10" testID="cuts">
        {work.coils.map(({ size, material, total_m, coil_m, count, offcut_m }) => (
          <View key={`${size} ${material}`} className="pt-5">
            <Heading level={2} look="station" className="px-[18px]">
              {`${sizeText(size, units)}${material === 'copper' ? '' : `, ${material}`}`}
            </Heading>
            <T look="fact" className="px-[18px] pb-1">
              {`${counted(count, 'coil')} of ${inUnits(coil_m, 'm', units)}: ${inUnits(total_m, 'm', units, 4)} used, ${inUnits(offcut_m, 'm', units)} left over`}
            </T>
            {work.cuts
              .filter((cut) => cut.size === size && cut.material === material)
              .map((cut) => (
                <View
                  key={cut.run}
                  className="min-h-[64px] flex-row items-center gap-3 border-b border-rule px-[18px] py-2"
                >
                  <View className="min-w-0 flex-1">
                    <T look="head">{cutPlace(after, cut)}</T>
                    <T look="fact">
                      {`${counted(cut.lugs, 'end')} to crimp, ${counted(cut.sleeve, 'sleeve')}; ${cut.colourNote}`}
                      {cut.insulation_C ? `; ${cut.insulation_C} \u00b0C insulation` : ''}
                    </T>
                  </View>
                  <View className="items-end">
                    <T look="figure">{`${cut.poles * cut.perPole} \u00d7 ${inUnits(cut.cut_m, 'm', units)}`}</T>
                    <T look="small">{`${inUnits(cut.oneWay_m, 'm', units)} one way`}</T>
                  </View>
                </View>
              ))}
          </View>
        ))}
        <T look="fact" className="px-[18px] pt-4">
          Each length includes 10 %. Measure the route again before the first cut. Cut leads that share a current to
          equal length.
        </T>
      </View>
    </ScrollView>
  );
}
