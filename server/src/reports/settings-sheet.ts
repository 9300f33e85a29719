import { METRIC, modelOf, settingChanges, settingName, settingText, type SystemFile } from '@true-lantern/core';
import { box, proposalOf, table, type Sheet } from './pieces';

/** What each device is set to, in volts at this bank. */
export function settingsSheet(file: SystemFile, id: string): Sheet {
  const proposal = proposalOf(file, id);
  const changes = settingChanges(modelOf(file).system, modelOf(file, id).system);
  const value = (setting: string, one: unknown) => settingText(setting, one, METRIC) ?? 'not read';
  return [
    `Settings: ${proposal.title}`,
    changes.length === 0
      ? [{ text: 'No settings change.' }]
      : [
          table(
            [12, '*', '*', 80, 80],
            changes.map(({ device, setting, before, after }) => [
              box(),
              device,
              settingName(setting),
              { text: value(setting, after), bold: true },
              { text: value(setting, before), style: 'small' },
            ]),
            ['', 'Device', 'Setting', 'Becomes', 'Was'],
          ),
          {
            text: 'Read everything back with only the bank applied. The maker\u2019s manual overrides each of these.',
            margin: [0, 6, 0, 0],
          },
        ],
  ];
}
