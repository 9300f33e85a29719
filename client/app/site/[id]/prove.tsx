import { Moved } from '../../../src/shell/Moved';

export default function Prove() {
  return <Moved to="service" />;
}
