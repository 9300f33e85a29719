import { string } from 'yup';

const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/i;
/** True for an id as devices make them. */
export const isUuid = (text: string) => UUID.test(text);

/** An id that a device has made. */
export const uuid = () =>
  string()
    .typeError('is no text, expected a UUID')
    .test('uuid', 'is no UUID, expected a UUID', (value) => isUuid(value ?? ''))
    .required('is missing, expected a UUID');
