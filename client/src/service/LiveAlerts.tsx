import type { Alerts } from '@true-lantern/wire';
import { useState } from 'react';
import { View } from 'react-native';
import { tellHere, tellsHere, useAlerts, useKeepAlerts } from '../data/alerts';
import { useAttempt } from '../ui/attempt';
import { Chip } from '../ui/controls';
import { Stepper } from '../ui/stepper';
import { Heading, T } from '../ui/text';

const ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone;

/** Who is told when a value goes out of range, and when not. One choice for all sites. */
export function LiveAlerts() {
  const { data } = useAlerts();
  const keep = useKeepAlerts();
  const { trouble, attempt } = useAttempt<undefined>(() => undefined);
  const here = tellsHere.useValue();
  const [blocked, setBlocked] = useState(false);
  const alerts = data?.alerts;
  const change = (more: Partial<Alerts>) =>
    alerts && void attempt(() => keep({ ...alerts, ...more, zone: ZONE || 'UTC' }));
  return (
    <View className="gap-3 px-[18px] pt-8" testID="live-alerts">
      <Heading level={2} look="station">
        When a value goes out of range
      </Heading>
      <T look="fact">It is written in the log once. You can also be told, for every site of the firm:</T>
      <View role="group" aria-label="Tell me" className="flex-row flex-wrap gap-2">
        <Chip
          many
          label="On this device"
          on={here}
          onPress={() => void tellHere(!here).then((allowed) => setBlocked(!allowed))}
        />
        {data?.mails ? (
          <Chip many label="By e-mail" on={alerts?.mail ?? false} onPress={() => change({ mail: !alerts?.mail })} />
        ) : null}
      </View>
      {blocked ? (
        <T role="alert">Notifications are blocked. Allow them for this page in the browser’s settings.</T>
      ) : null}
      {here ? <T look="fact">This device tells you while True Lantern is open on it, also in the background.</T> : null}
      {alerts && (here || alerts.mail) ? (
        <View className="gap-2">
          <T look="head">Quiet hours</T>
          <Stepper
            label="from"
            value={alerts.quietFrom}
            min={0}
            max={23}
            onChange={(quietFrom) => change({ quietFrom })}
          />
          <Stepper label="to" value={alerts.quietTo} min={0} max={23} onChange={(quietTo) => change({ quietTo })} />
          <T look="fact">
            {alerts.quietFrom === alerts.quietTo
              ? 'No quiet hours.'
              : `Nothing between ${clock(alerts.quietFrom)} and ${clock(alerts.quietTo)}. E-mail waits until then, and is left out if the value is back in range.`}
          </T>
        </View>
      ) : null}
      {trouble ? <T role="alert">{trouble}</T> : null}
    </View>
  );
}

const clock = (hour: number) => `${String(hour).padStart(2, '0')}:00`;
