import { answerOf, SCHOOLS, type Schools, type Site } from '@true-lantern/core';
import { View } from 'react-native';
import { Chip } from '../kit/controls';
import { T } from '../kit/text';

interface SchoolsEntryProps {
  schools: Schools;
  /** Where they are asked for one site: what is usual there. */
  site?: Site;
  disabled?: boolean;
  onChange(field: string, value: unknown): void;
}

/** The schools of a site, one choice each, with what each means. */
export function SchoolsEntry({ schools, site, disabled = false, onChange }: SchoolsEntryProps) {
  return (
    <View>
      {SCHOOLS.map((school) => {
        const { path, label, choices, book } = school;
        const chosen = answerOf(schools, { ...school, book: null });
        const now = answerOf(schools, school, site);
        return (
          <View key={path} className="gap-2 border-b border-rule px-[18px] py-3">
            <View className="flex-row items-baseline justify-between">
              <T>{label}</T>
              {chosen === null ? <T look="small">{book === null ? 'the table' : 'as usual'}</T> : null}
            </View>
            <View role="radiogroup" aria-label={label} className="flex-row flex-wrap gap-2">
              {choices.map(([value, word]) => (
                <Chip
                  key={word}
                  label={word}
                  aria-label={`${label}: ${word}`}
                  on={now === value}
                  disabled={disabled}
                  // A second tap lets go again: what is usual stands then.
                  onPress={() => onChange(path, chosen === value ? null : value)}
                />
              ))}
            </View>
          </View>
        );
      })}
    </View>
  );
}
