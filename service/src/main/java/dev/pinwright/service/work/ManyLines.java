package dev.pinwright.service.work;

import java.lang.annotation.ElementType;
import java.lang.annotation.Retention;
import java.lang.annotation.RetentionPolicy;
import java.lang.annotation.Target;

/** On a text of a request that may have many lines; all others are one line. */
@Retention(RetentionPolicy.RUNTIME)
@Target({
  ElementType.RECORD_COMPONENT,
  ElementType.PARAMETER,
  ElementType.FIELD,
  ElementType.METHOD
})
public @interface ManyLines {}
