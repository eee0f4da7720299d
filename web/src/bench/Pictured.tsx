import classes from './choices.module.css';

interface Props {
  picture: string;
  name: string;
  description: string;
  onClick: () => void;
}

/** Something that is chosen by a picture of what it does. */
export function Pictured({ picture, name, description, onClick }: Props) {
  return (
    <button type="button" className={classes.choice} onClick={onClick}>
      <img src={picture} alt="" />
      <span>{name}</span>
      <small>{description}</small>
    </button>
  );
}
