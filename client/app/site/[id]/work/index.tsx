import { Moved } from '../../../../src/shell/Moved';

export default function Work() {
  return <Moved to="install" />;
}
