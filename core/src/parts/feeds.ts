import { id } from './common';
import { list, num, part, requiredOneOf, requiredText, requiredWhole, text, whole, oneOf } from './fields';

/** A device that answers when it is asked (Modbus TCP): where it is, and which of its registers is what. */
export const feedSchema = part({
  id: id(),
  label: text(),
  kind: requiredOneOf(['modbus-tcp']),
  host: requiredText('the name or address of the device'),
  /** 502 where it is not said. */
  port: whole(1, 65_535),
  /** 1 where it is not said. */
  unit: whole(0, 255),
  /** 30 where it is not said. */
  every_s: num(1, 86_400),
  map: list(
    part({
      /** As the device counts it, from 0. */
      register: requiredWhole(0, 65_535),
      function: whole(3, 4),
      type: oneOf(['u16', 's16', 'u32', 's32', 'f32']),
      order: oneOf(['big', 'little']),
      scale: num(-1e9, 1e9),
      offset: num(-1e9, 1e9),
      subject: requiredText('the id of a part'),
      quantity: requiredText('what is read'),
    }),
  ),
});
