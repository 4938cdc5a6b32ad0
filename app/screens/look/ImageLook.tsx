import { Button } from '@mantine/core';
import { useState } from 'react';
import { TransformComponent, TransformWrapper } from 'react-zoom-pan-pinch';
import classes from './Look.module.css';

/** An image that is drawn near and moved about: by the wheel and the pointer, with fingers, or by its buttons. */
export function ImageLook({ address, name }: { address: string; name: string }) {
  const [isBroken, setBroken] = useState(false);
  if (isBroken)
    return (
      <p className={classes.none} role="alert">
        {name} is no image that the browser can show. Download it, and open it in the program that it comes
        from.
      </p>
    );
  return (
    <TransformWrapper minScale={0.2} maxScale={40} limitToBounds={false} centerOnInit>
      {({ zoomIn, zoomOut, resetTransform }) => (
        <div className={classes.image}>
          <div className={classes.tools} role="toolbar" aria-label="View of the image">
            <Button variant="default" onClick={() => zoomIn()}>
              Nearer
            </Button>
            <Button variant="default" onClick={() => zoomOut()}>
              Away
            </Button>
            <Button variant="default" onClick={() => resetTransform()}>
              All of it
            </Button>
          </div>
          <TransformComponent wrapperClass={classes.wrapper} contentClass={classes.content}>
            <img src={address} alt={name} draggable={false} onError={() => setBroken(true)} />
          </TransformComponent>
        </div>
      )}
    </TransformWrapper>
  );
}
