import { SecondWindow } from '../../ui/stage/second-window';

export default function StagePage() {
  return <SecondWindow />;
}
