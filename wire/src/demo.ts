import { boolean, object } from 'yup';

/** PUT /demo/fault: whether the demo's stand-in has its fault. */
export const demoFaultSchema = object({ on: boolean().required('is missing') });
