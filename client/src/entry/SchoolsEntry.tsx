import { answerOf, SCHOOLS, type Schools, type Site } from '@true-lantern/core';
import { View } from 'react-native';
import { Chip } from '../ui/controls';
import { T } from '../ui/text';
import { usePretty } from '../ui/units';

interface SchoolsEntryProps {
  schools: Schools;
  /** Where they are asked for one site: what is usual there. */
  site?: Site;
  disabled?: boolean;
  onChange(field: string, value: unknown): void;
}

/** The design standards of a site: one choice each, with what it is about and what the choice means. */
export function SchoolsEntry({ schools, site, disabled = false, onChange }: SchoolsEntryProps) {
  const pretty = usePretty();
  return (
    <View>
      {SCHOOLS.map((school) => {
        const { path, label, about, choices, book } = school;
        const chosen = answerOf(schools, { ...school, book: null });
        const now = answerOf(schools, school, site);
        return (
          <View key={path} className="gap-2 border-b border-rule px-[18px] py-3">
            <View className="flex-row items-baseline justify-between">
              <T>{label}</T>
              {chosen === null ? <T look="small">{book === null ? 'by chemistry' : 'default'}</T> : null}
            </View>
            <T look="fact">{about}</T>
            <View role="radiogroup" aria-label={label} className="flex-row flex-wrap gap-2">
              {choices.map(([value, word]) => (
                <Chip
                  key={word}
                  label={word}
                  aria-label={`${label}: ${word}`}
                  on={now === value}
                  disabled={disabled}
                  // A second tap goes back to the default.
                  onPress={() => onChange(path, chosen === value ? null : value)}
                />
              ))}
            </View>
            <T look="fact">
              {pretty(choices.find(([value]) => value === now)?.[2] ?? 'By the chemistry of the bank.')}
            </T>
          </View>
        );
      })}
    </View>
  );
}
